"""A program of tools run on the stand-in, or its results read back from a real machine, and judged tool by tool."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.job.planning import asked_of, program_of
from nonna.bench.sheet.judging import Judged, judge, suspected
from nonna.bench.sheet.signing import STANDIN
from nonna.errors import NonnaError
from nonna.shop.links.subjects import tool

if TYPE_CHECKING:
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.job.planning import Answer
    from nonna.bench.station.site import Site
    from nonna.bench.tray.tray import Tray
    from nonna.programs.writing.results import Touched
    from nonna.shop.links.history import Entry
    from nonna.standin.world import World
    from nonna.stations.tool_program import Outcome, ToolsPlan

Told = Callable[[int, int, str], None]  #: how far, of how much, what is done now; what it raises stops the work


def must_be_clean(answer: Answer) -> None:
    """Raises: NonnaError (the plan does not rehearse clean: it is run nowhere)."""
    if not answer.rehearsal.clean:
        raise NonnaError("out-of-range", "It does not rehearse clean, so it is not run. Ctrl+R shows why.", "program")


def planned_now(site: Site, tray: Tray, numbers: Collection[int], results: HeldResults) -> ToolsPlan:
    """Plan, write and rehearse a program for tools, where the kind of station plans when it is asked.

    Raises: NonnaError (no tool is named, one cannot be measured by program, or it does not rehearse clean).
    """
    asked = asked_of(tray, numbers, site.machine, results, site.folder)
    return program_of(site.machine).plan(asked, lambda *_: None, lambda: None)


def on_standin(plan: ToolsPlan, site: Site, world: World, go_on: bool, told: Told) -> tuple[Judged, ...]:
    """Run a plan's text on the stand-in machine and judge what came of it; whatever ``told`` raises stops it.

    Raises: NonnaError (its rehearsal is not clean; the machine stopped).
    """
    found = program_of(site.machine).run(plan, site.machine, world, clock.run_number(), go_on, told)
    return judged_of(found, site, STANDIN)


def read_back(touches: Sequence[Touched], answer: Answer | None, site: Site) -> tuple[Outcome, ...]:
    """Return what a real machine measured, each touch as what its program made it.

    Raises: NonnaError (tools have no program here, one is not of this tray, touches fit no plan: nothing is taken).
    """
    known = {each.number for each in site.tools}
    strange = [touch.tool for touch in touches if touch.tool not in known]
    if strange:
        words = "T{number} is not in this tray; nothing was taken."
        raise NonnaError("out-of-range", words, "tools", number=min(strange))
    return program_of(site.machine).read_back(touches, answer.plan if answer is not None else None, site.tools)


def judged_of(
    found: Sequence[Outcome], site: Site, source: str, entries: Sequence[Entry] | None = None
) -> tuple[Judged, ...]:
    """Evaluate every outcome as the tool's sheets would, and compare it with the table and the tool's own past.

    Parameters: entries, of the book as it stood (the station's own where none are given).
    """
    subjects = {each.number: each.subject for each in site.tools}
    rows: list[Judged] = []
    for each in found:
        subject = subjects.get(each.number, tool(each.number))
        if each.failed:
            rows.append(Judged(subject, each.procedure, failed=each.failed, program=each.program, site=site))
        rows += [
            judge(site, subject, taken.procedure, taken.rows, source, taken.setup, each.program, taken.variant)
            for taken in each.taken
        ]
    past = site.results().entries if entries is None else entries
    return suspected(rows, {t.subject: t for t in site.tools}, past)
