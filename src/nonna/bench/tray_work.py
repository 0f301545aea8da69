"""What is done with a tray: a look at one tool's plan, measuring, results of a real machine."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.batch_judging import judged_of
from nonna.bench.signing import STANDIN
from nonna.bench.tray import job_tools
from nonna.errors import NonnaError
from nonna.programs.oriented import edges_of
from nonna.programs.plan import plan_job
from nonna.standin.batch import Outcome, measure_tools

if TYPE_CHECKING:
    from nonna.bench.held import HeldResults
    from nonna.bench.judging import Judged
    from nonna.bench.planning import Answer
    from nonna.bench.site import Site
    from nonna.bench.tray import Tray
    from nonna.programs.plan import ToolPlan
    from nonna.shop.machine import Machine, Tool
    from nonna.standin.world import World


def look_at(tray: Tray, tool: Tool, machine: Machine, results: HeldResults) -> ToolPlan | None:
    """Return the plan of one tool alone, None where nothing can be planned: the tray itself says what is wrong with it."""
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


def outcomes(positions: Mapping[int, Sequence[float]], answer: Answer | None, tray: Tray) -> tuple[Outcome, ...]:
    """Return what a real machine measured (positions by tool, mm) as outcomes of the tray's tools.

    Raises: NonnaError (a tool that is not here; nothing is taken then).
    """
    strange = [number for number in positions if tray.tool(number) is None]
    if strange:
        words = "T{number} is not in this tray; nothing was taken."
        raise NonnaError("out-of-range", words, "tools", number=min(strange))
    found = []
    for number, tops in positions.items():
        plan = answer.of(number) if answer else None
        touch = plan.touches[0] if plan and plan.touches else None
        turn = touch.feeds.slow_mm_min / touch.rpm if touch and touch.rpm and touch.feeds else 0.0
        edges = edges_of(plan.tool) if plan else 0
        found.append(Outcome(number, tuple(tops), feed_per_rev=turn, flutes=edges))
    return tuple(found)
