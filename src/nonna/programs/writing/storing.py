"""A length stored while it is measured: only inside its window from what the control's table holds, else a stop."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.printing import Printing
from nonna.programs.writing.units import Unit
from nonna.shop.cards.control_card import ControlCard

WHAT = "length"
OUTSIDE = 4  #: of a program's labels, where it stops before it stores
PARAMETERS = 3  #: for what was found, what stood there, and what was read back


@dataclass(frozen=True, slots=True)
class LengthStore:
    """How one tool's length is worked out in the program, and within what it is stored."""

    tool: int
    plane_mm: float
    late_mm: float  #: how far a turning edge has come on when it triggers
    within_mm: float  #: to either side of the table's
    first_parameter: int  #: of `PARAMETERS`

    @property
    def row(self) -> LoadRow:
        """What it stores."""
        return LoadRow(WHAT, 0.0, self.tool, self.tool)


def store_steps(
    store: LengthStore, found_in: range, card: ControlCard, unit: Unit, printing: Printing, label: int
) -> Iterator[str]:
    """Yield the blocks that store a length behind its touches.

    Parameters: found_in, the parameters that hold the touches; label, of the block that stops the program.
    Raises: NonnaError (the card's line wants what nobody gives).
    """
    plan, row = LoadPlan("", card, (store.row,), printing.run), store.row
    found, old, back = (store.first_parameter + i for i in range(PARAMETERS))
    touches = " + ".join(f"#{at}" for at in found_in)
    length = f"[[{touches}] / {len(found_in)} - [{unit.of(store.plane_mm - store.late_mm):.5f}]]"
    gain = plan.gain(row)
    yield f"#{found} = {length}" if gain == 1.0 else f"#{found} = [{gain!r} * {length}]"
    yield plan.read_line(row, old)
    if printing.works:
        yield printing.value(store.tool, f"old-{WHAT}", "z", old)
    yield f"IF [ABS[#{found} - #{old}] GT {unit.of(store.within_mm) * abs(gain):.5f}] GOTO {label}"
    yield plan.line_from(row, found)
    yield plan.read_line(row, back)
    if printing.works:
        yield printing.value(store.tool, f"stored-{WHAT}", "z", back)
