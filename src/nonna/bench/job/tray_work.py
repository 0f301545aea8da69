"""What is done with a tray: a look at one tool's plan, measuring, results of a real machine."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.job.batch_judging import judged_of
from nonna.bench.sheet.signing import STANDIN
from nonna.bench.tray.tray import job_tools
from nonna.errors import NonnaError
from nonna.programs.writing.results import Touched
from nonna.stations.mill.planning.plan import ToolPlan, plan_job
from nonna.stations.mill.standin.batch import Outcome, measure_tools

if TYPE_CHECKING:
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.job.planning import Answer
    from nonna.bench.sheet.judging import Judged
    from nonna.bench.station.site import Site
    from nonna.bench.tray.tray import Tray
    from nonna.shop.cards.machine import Machine, Tool
    from nonna.standin.world import World
    from nonna.stations.mill.planning.plan import ToolPlan


def look_at(tray: Tray, tool: Tool, machine: Machine, results: HeldResults) -> ToolPlan | None:
    """Return the plan of one tool alone, None where nothing can be planned: the tray itself says what is wrong with
    it.
    """
    if machine.setter is None:
        return None
    try:
        wanted = job_tools(tray, {tool.number}, results)
        return plan_job(machine, wanted[:1], tray.touches, tray.accuracy_mm, wishes=tray.wishes).tools[0]
    except NonnaError:
        return None


def must_be_clean(answer: Answer) -> None:
    """Raises: NonnaError (the plan does not rehearse clean: it is run nowhere)."""
    if not answer.rehearsal.clean:
        raise NonnaError("out-of-range", "It does not rehearse clean, so it is not run. Ctrl+R shows why.", "program")


def on_standin(
    answer: Answer, site: Site, world: World, go_on: bool, told: Callable[[int, int, str], None]
) -> tuple[Judged, ...]:
    """Measure a plan on the stand-in machine and judge what came of it; whatever ``told`` raises stops it.

    Raises: NonnaError (its rehearsal is not clean; the machine stopped).
    """
    must_be_clean(answer)
    found = measure_tools(
        answer.plan, answer.trial, answer.table, world, clock.run_number(), answer.writer, truth_of=site.machine,
        go_on=go_on, progress=told,
    )  # fmt: skip
    return judged_of(found, answer, site, answer.table, answer.results.entries, STANDIN)


def outcomes(touches: Sequence[Touched], answer: Answer | None, tray: Tray) -> tuple[Outcome, ...]:
    """Return what a real machine measured as outcomes of the tray's tools, each touch as what its program made it.

    A program leaves lengths, sides and teeth of a tool in its own order; touches that are fewer or more than it makes
    are taken as lengths where nothing else was asked for, and refused where it would be a guess which they are.
    Raises: NonnaError (a tool that is not here, touches that fit no plan; nothing is taken then).
    """
    by_number: dict[int, list[Touched]] = {}
    for touch in touches:
        by_number.setdefault(touch.tool, []).append(touch)
    strange = [number for number in by_number if tray.tool(number) is None]
    if strange:
        words = "T{number} is not in this tray; nothing was taken."
        raise NonnaError("out-of-range", words, "tools", number=min(strange))
    return tuple(_outcome(number, own, answer.of(number) if answer else None) for number, own in by_number.items())


def _outcome(number: int, own: Sequence[Touched], plan: ToolPlan | None) -> Outcome:
    made = [touch for touch in plan.touches for _ in range(touch.count)] if plan else []
    beyond_lengths = any(touch.axis != "z" or touch.tooth for touch in made)
    named = any(touch.axis in ("x", "y") for touch in own)
    if (beyond_lengths or named) and len(made) != len(own):
        words = (
            "T{number}: {count} touches came, and its program makes {wanted}: which is a length, which a side? "
            "Nothing was taken."
        )
        raise NonnaError("too-few-readings", words, "touches", number=number, count=len(own), wanted=len(made))
    pairs = list(zip(own, made, strict=False)) if beyond_lengths else []
    wrong = next((a for a, b in pairs if a.axis and a.axis != b.axis), None)
    if wrong is not None:
        words = "T{number}: a touch along {axis} stands where its program makes another. Nothing was taken."
        raise NonnaError("wrong-format", words, "touches", number=number, axis=wrong.axis.upper())
    tops = [a.position_mm for a, b in pairs if b.axis == "z" and not b.tooth] if pairs else [a.position_mm for a in own]
    turns = {
        touch.axis == "z": touch.feeds.slow_mm_min / touch.rpm
        for touch in made
        if touch.rpm and touch.feeds is not None
    }
    return Outcome(
        number, tuple(tops), tuple((b.name.split()[-1], a.position_mm) for a, b in pairs if b.axis != "z"),
        tuple((b.tooth, a.position_mm) for a, b in pairs if b.tooth), turns.get(True, 0.0), turns.get(False, 0.0),
        plan.tool.edges if plan else 0,
    )  # fmt: skip
