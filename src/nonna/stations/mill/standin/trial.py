"""A text that was rehearsed: the only thing that is ever measured with, and exactly that text."""

from __future__ import annotations

from collections.abc import Callable

from nonna.programs.language.dialect import Dialect
from nonna.programs.writing.units import unit_of
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.standin.rehearsal import Trial
from nonna.stations.mill.standin.rehearsing import rehearse

HOST_HEAD = "%\n{unit} G90 G94 G17 G40 G49 G80\nG54\n"
HOST_TAIL = "M5\nG53 G0 Z{top:.3f}\nM2\n%\n"


def tried(
    text: str,
    machine: Machine,
    tools: Tools,
    *,
    dialect: Dialect,
    held: Tool | None = None,
    trace: bool = False,
    check: Callable[[], None] | None = None,
) -> Trial:
    """Rehearse a text at all lengths of the tools.

    Parameters: held, what is in the spindle at the start; trace and check as of `rehearse`.
    """
    found = rehearse(text, machine, tools, sweep=True, dialect=dialect, trace=trace, check=check, held=held)
    return Trial(text, dialect, machine, found)


def tried_piece(piece: str, machine: Machine, tools: Tools, *, dialect: Dialect) -> Trial:
    """Rehearse a piece for a part program inside one: what comes before and after it must go on as it was."""
    unit = unit_of(machine.control)
    head, tail = HOST_HEAD.format(unit=unit.word), HOST_TAIL.format(top=unit.of(machine.tool_change_z_mm))
    found = rehearse(head + piece + tail, machine, tools, sweep=True, dialect=dialect)
    return Trial(piece, dialect, machine, found)
