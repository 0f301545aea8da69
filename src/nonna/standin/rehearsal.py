"""Rehearse any program on the machine as its papers have it: contacts, problems, times, what it would measure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nonna.errors import NonnaError
from nonna.figures.figure import Figure
from nonna.programs.language.blocks import Block
from nonna.programs.language.control_state import ACTIVE, ControlState
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.shifts import left as left_shifts
from nonna.programs.language.table_file import cells_of, parameters_of
from nonna.programs.language.tables import ControlTables, Stored
from nonna.programs.language.tool_calls import ToolCalls
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine
from nonna.shop.texts.given import Plain
from nonna.standin.contact import Contact, Problem
from nonna.standin.path import PathPoint
from nonna.standin.stores import store_documents

SHORT_SURPRISE_MM = 0.05  #: a tool this much beyond what is stated for it is a surprise


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """What a rehearsal found."""

    duration_s: float
    contacts: tuple[Contact, ...]
    problems: tuple[Problem, ...]
    results: dict[int, dict[str, float | None]]
    path: Sequence[PathPoint] = ()  #: with the tools as stated, where it was asked for
    stores: tuple[Stored, ...] | None = None  #: what goes into the control's tables; None: nobody knows them
    figure: Figure | None = None  #: the whole way drawn, by a kind of machine that has no path to scrub

    @property
    def clean(self) -> bool:
        """Whether nothing stops it."""
        return not any(p.severity == "stop" for p in self.problems)

    def to_document(self) -> dict[str, Plain]:
        """Return it as the command line prints it."""
        return {
            "duration_s": self.duration_s,
            "contacts": [
                {
                    "line": c.line, "tool": c.tool, "x_mm": c.position[0], "y_mm": c.position[1], "z_mm": c.position[2],
                    "feed_mm_min": c.feed_mm_min, "with": c.what,
                }
                for c in self.contacts
            ],
            "problems": [
                {"code": p.code, "severity": p.severity, "line": p.line, "tool": p.tool, "message": p.message}
                for p in self.problems
            ],
            "results": {str(number): row for number, row in self.results.items()},
            **({} if self.stores is None else {"stores": store_documents(self.stores)}),
        }  # fmt: skip


class StoppedError(Exception):
    """A machine would have stopped here."""


def add_problems(found: list[Problem], more: Sequence[Problem], when: str) -> None:
    """Add the problems of another run that were not found yet."""
    for p in more:
        if not any((p.code, p.line, p.tool) == (q.code, q.line, q.tool) for q in found):
            found.append(replace(p, message=f"{p.message} ({when})"))


def state_for(
    blocks: Sequence[Block], calls: ToolCalls, machine: Machine, kept: ControlTablesFile | None = None
) -> ControlState:
    """Return the modes a program begins with, told how tools are called and whether it takes lengths off anywhere.

    Parameters: kept, the control's tables as they are; without them, and without a card of the control, nobody knows
    what is stored.
    """
    taken = any(w.letter == "g" and w.value == 43.0 for block in blocks for w in block.words)
    state = ControlState(uses_length=taken, calls=calls)
    if machine.control is not None or kept is not None:
        cells, parameters = (cells_of(kept), parameters_of(kept)) if kept is not None else ({}, {})
        state.use(ControlTables.of(machine.control, cells), parameters)
    return state


def other_units(machine: Machine, kept: ControlTablesFile | None) -> list[Problem]:
    """Say that the tables are in another unit than the card says."""
    says = machine.control.units if machine.control is not None else "mm"
    if kept is None or kept.units == says:
        return []
    words = f"the control's tables are in {kept.units}, and the card of {machine.name} says {says}"
    return [Problem("units", "stop", 1, 0, words)]


def judged(state: ControlState, tool: int, missed: str, *, by_hand: bool = False) -> list[Problem]:
    """Say which skip moves found nothing, and of which the program would not notice it.

    ``by_hand``: an approach that touches something is left where it stands, for hands to back it off.
    """
    if state.missed:
        return [Problem("no-trigger", "stop", state.missed[0], tool, missed)]
    if state.caught and not by_hand:
        words = "an approach touches something, and the program stops itself there"
        return [Problem("collision", "stop", state.caught[0], tool, words)]
    if state.caught:
        return []
    words = "were the sensor not to trigger, the program would go on from here"
    return [Problem("unguarded", "stop", line, tool, words) for line in state.unguarded[:1]]


def uncompensated(state: ControlState, found: Sequence[Problem]) -> list[Problem]:
    """Say where a height was gone to without the tool's length; a wrong length is said where it is taken."""
    if not state.uncompensated or any(p.code in ("wrong-tool", "no-such-tool") for p in found):
        return []
    held = f"T{state.compensated}'s length" if state.compensated else "no tool's length"
    words = f"Z is gone to with {held} taken off, and another tool is in the spindle"
    if not state.compensated:
        words = "Z is gone to without the length of the tool in the spindle (G43)"
    return [Problem("no-compensation", "stop", state.uncompensated, state.tool, words)]


def left_otherwise(state: ControlState, line: int, tool: int) -> list[Problem]:
    """Say what the program leaves otherwise than it found it."""
    left = []
    if int(state.parameters[ACTIVE]) != 1:
        left.append(
            (
                "offset-not-restored",
                "warn",
                f"the work offset is left at G{53 + int(state.parameters[ACTIVE])}, it was G54",
            )
        )
    left += [
        ("offset-not-restored", "warn", words)
        for words in left_shifts(state.parameters, tables=state.tables is not None)
    ]
    if not state.absolute:
        left.append(
            ("offset-not-restored", "stop", "G91 is left on: the next program would move by amounts, not to places")
        )
    if state.plane != 17.0:
        left.append(("offset-not-restored", "warn", f"the plane is left at G{state.plane:g}, it was G17"))
    if not state.overrides:
        left.append(("offset-not-restored", "warn", "M49 is left on: the hand cannot turn the next program down"))
    if state.length_offset != 0.0:
        left.append(("offset-not-restored", "warn", "a tool length offset is left on"))
    if state.scale != state.home_unit:
        is_left, was = ("inches (G20)", "millimetres") if state.home_unit == 1.0 else ("millimetres (G21)", "inches")
        left.append(("units", "warn", f"{is_left} are left on a machine that was in {was}"))
    if state.turning:
        left.append(("spindle-running", "stop", "the spindle is left turning"))
    return [Problem(code, severity, line, tool, words) for code, severity, words in left]


def problem_of(error: ProgramError) -> Problem:
    """Return a block that cannot be read or run as a problem."""
    where = f" (column {error.column})" if error.code in ("syntax", "unsupported") else ""
    return Problem(error.code, "stop", error.line, 0, f"{error.message}{where}")


@dataclass(frozen=True, slots=True)
class Trial:
    """A program's text with what rehearsing it found, on which machine, with which tools."""

    text: str
    dialect: Dialect
    machine: Machine
    rehearsal: Rehearsal

    @property
    def clean(self) -> bool:
        """Whether nothing stops it."""
        return self.rehearsal.clean

    def must_be_clean(self) -> None:
        """Raise NonnaError with the first thing that stops it, where something does."""
        for problem in self.rehearsal.problems:
            if problem.severity == "stop":
                raise NonnaError(
                    problem.code,
                    "It does not rehearse clean, so it is not run: block {row}, {words}.",
                    f"line {problem.line}",
                    row=problem.line,
                    words=problem.message,
                )
