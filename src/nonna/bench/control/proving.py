"""What a load program stored, proved by what the control itself read back: in its table, different, or unproved."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from nonna.bench.book.writing import Signature, event
from nonna.bench.control.runs import CameBack, WrittenRun
from nonna.programs.language.phrases import axis_of
from nonna.programs.language.tables import decimals_of
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.shop.cards.control_card import ControlCard
from nonna.shop.links.history import DIFFERS, STORED
from nonna.shop.links.subjects import Subject
from nonna.shop.records.values import Record

ROOM = 0.502  #: of a step of the table, that a number read back may stand off what was meant


@dataclass(frozen=True, slots=True)
class Proved:
    """One number, as it was meant and as it stands in the control's table."""

    row: LoadRow
    meant: float  #: as it stands in the table when all went well, in the control's units
    back: float | None  #: what was read back
    old: float | None
    state: Literal["stored", "differs", "unproved"]
    unit: str
    decimals: int

    @property
    def words(self) -> str:
        """Say it for a person, and for the book."""
        meant, asked = f"{self.meant:.{self.decimals}f} {self.unit}", self.row.asked
        if self.state == "unproved":
            return f"{asked}: {meant} meant, nothing was read back"
        back = f"{self.back:.{self.decimals}f}"
        if self.state == "differs":
            return f"{asked}: {meant} meant, and {back} stands there"
        return f"{asked}: {meant}, read back {back}"


def proofs(card: ControlCard, machine: str, came: CameBack) -> tuple[Proved, ...]:
    """Hold what a control printed against what its load program was to store; in the order of the program.

    Notes: a run that puts values back is proved by the values that the run before it kept: there each old one is what
    is meant, and a line of it says what stands there now.
    """
    plan = LoadPlan(machine, card, came.run.rows, came.run.name, put_back=came.run.purpose == "put-back")
    said = {
        (each.tool, each.what, each.axis): came.printed.values[index]
        for index, each in came.run.program.touches.items()
        if index in came.printed.values
    }
    unit = "in" if card.units == "inch" else "mm"
    half = ROOM * 10.0 ** -decimals_of(card)
    made = []
    for row in plan.rows:
        key = (row.tool or 0, row.what, row.axis or axis_of(row.what))
        back, old = (said.get((key[0], f"{kind}-{key[1]}", key[2])) for kind in ("stored", "old"))
        meant = plan.exact(row) if not plan.put_back else old
        state: Literal["stored", "differs", "unproved"] = (
            "unproved" if back is None or meant is None else "stored" if abs(back - meant) <= half else "differs"
        )
        wanted = plan.exact(row) if meant is None else meant
        made.append(Proved(row, wanted, back, old, state, unit, decimals_of(card)))
    return tuple(made)


def events_of(
    found: Sequence[Proved], subjects: Mapping[int, Subject], signature: Signature, run: WrittenRun
) -> tuple[Record, ...]:
    """Return what goes into the book of a load: an event a tool, that its numbers stand in the control or differ.

    What nothing proves makes no event: it is not known to be there. Values that were put back are not those of the
    book: the table differs from it.
    """
    back = run.purpose == "put-back"
    made: list[Record] = []
    for number in dict.fromkeys(each.row.tool for each in found if each.row.tool):
        own = [each for each in found if each.row.tool == number and each.state != "unproved"]
        if not own or number is None or number not in subjects:
            continue
        name = STORED if not back and all(each.state == "stored" for each in own) else DIFFERS
        here = Signature(
            signature.operator, signature.machine, subjects[number], signature.shop, signature.invented, signature.at
        )
        records = ", ".join(f"record {n}" for n in dict.fromkeys(each.row.record for each in own if each.row.record))
        words = ("Put back: " if back else "") + "; ".join(each.words for each in own)
        note = f"{words} ({records}, run {run.name})" if records else f"{words} (run {run.name})"
        made.append(event(name, here, note))
    return tuple(made)
