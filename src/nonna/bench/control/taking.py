"""What a control printed of a measuring run, taken tool by tool: whole ones to be judged, the others named."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nonna.bench.control.runs import CameBack
from nonna.bench.job.planning import program_of
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.programs.writing.printed import readings_of
from nonna.programs.writing.printing import MARK
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.records.values import as_measurement
from nonna.stations.tool_program import Outcome


@dataclass(frozen=True, slots=True)
class TakenRun:
    """What of a run can be judged, and what cannot."""

    outcomes: tuple[Outcome, ...]
    waiting: tuple[int, ...]  #: tools of which touches are missing
    strange: tuple[int, ...]  #: pockets in which another tool is by now

    @property
    def words(self) -> str:
        """Say what is not taken, "" where everything is."""
        parts = []
        if self.waiting:
            names = ", ".join(f"T{number}" for number in self.waiting[:8])
            parts.append(f"Not all lines of {names} have come: F8 again when they have, or measure them again.")
        if self.strange:
            names = ", ".join(f"T{number}" for number in self.strange[:8])
            parts.append(f"{names}: another tool is there since the program was written. Not taken.")
        return " ".join(parts)


def not_signed_yet(outcomes: Sequence[Outcome], run: str, site: Site) -> tuple[Outcome, ...]:
    """Return what of a run is not in the book now, however often its lines are read.

    Raises: NonnaError (all of it is signed, or a record is damaged).
    """
    standing, read = site.standing(), site.folder.book.reader()
    subjects = {tool.number: tool.subject for tool in site.tools}

    def is_signed(outcome: Outcome) -> bool:
        subject = subjects.get(outcome.number)
        last = standing.newest([taken.procedure for taken in outcome.taken], subject) if subject is not None else None
        return last is not None and f"{MARK} {run} " in as_measurement(read(last.number)).measuring_program

    left = tuple(each for each in outcomes if not is_signed(each))
    if not left:
        raise NonnaError("out-of-range", "What run {run} measured is in the book already.", "run", run=run)
    return left


def taken_of(came: CameBack, machine: Machine, tools: Sequence[Tool]) -> TakenRun:
    """Return what a run gives. Raises: NonnaError (the machine's kind has no programs)."""
    program, values = came.run.program, came.printed.values
    touched = list(dict.fromkeys(each.tool for each in program.touches.values() if each.tool))
    waiting = tuple(
        number
        for number in touched
        if any(index not in values for index, each in program.touches.items() if each.tool == number)
    )
    now = {tool.number: str(tool.subject) for tool in tools}
    strange = tuple(n for n in touched if n not in waiting and now.get(n) != came.run.subjects.get(n))
    left_out = {*waiting, *strange}
    whole = replace(
        program,
        touches={index: each for index, each in program.touches.items() if each.tool not in left_out},
        sheets=tuple(sheet for sheet in program.sheets if sheet.tool not in left_out),
    )
    found = program_of(machine).printed_back(tuple(readings_of(came.printed, whole)), tools)
    return TakenRun(tuple(replace(each, program=came.run.text) for each in found), waiting, strange)
