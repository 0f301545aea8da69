"""Measure a whole job on the stand-in, tool after tool, as its program asks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from nonna.metrology.errors import NonnaError
from nonna.programs.errors import ProgramError
from nonna.programs.plan import JobPlan, ToolPlan
from nonna.programs.writer import write
from nonna.shop.machine import Machine, Tool, Tools
from nonna.standin.mill import Mill
from nonna.standin.session import run_program
from nonna.standin.truth import make, with_tools_changed
from nonna.standin.world import World

Progress = Callable[[int, int, str], None]  #: tools done, of how many, which one is touched


@dataclass(frozen=True, slots=True)
class Outcome:
    """What measuring one tool gave: gauge-line positions, or why it stopped."""

    number: int
    tops: tuple[float, ...] = ()
    sides: tuple[tuple[str, float], ...] = ()  #: (face, position)
    feed_per_rev: float = 0.0
    side_feed_per_rev: float = 0.0
    seconds: float = 0.0
    failed: str = ""
    code: str = ""
    lowest: float | None = None  #: how far the search went where nothing triggered
    program: str = field(default="", repr=False)


def measure_tools(
    machine: Machine,
    tools: Sequence[Tool],
    plan: JobPlan,
    world: World,
    run: int,
    *,
    go_on: bool = True,
    dialect: str = "rs274",
    progress: Progress | None = None,
) -> tuple[Outcome, ...]:
    """Run the programs of a plan, one a tool; refused tools are left out.

    Parameters: go_on, whether to measure the rest after a failure; progress is told before each tool, what it
    raises stops the job. The seed of the machine's truth is the world's.
    """  # fmt: skip
    wanted = [p for p in plan.tools if not p.refused]
    truth = with_tools_changed(make(machine, list(tools), world.seed), world.longer)
    table = Tools(format="nonna-tools/1", tools=list(tools))
    found: list[Outcome] = []
    for i, tool in enumerate(wanted):
        if progress is not None:
            progress(i, len(wanted), f"T{tool.tool.number}")
        outcome = _one(plan, tool, Mill(machine, truth, table, run + i), dialect)
        found.append(outcome)
        if outcome.failed and not go_on:
            break
    return tuple(found)


def _one(plan: JobPlan, tool: ToolPlan, mill: Mill, dialect: str) -> Outcome:
    whole = replace(plan.program, title=f"T{tool.tool.number}", lines=(), touches=tool.touches)
    text = write(whole, dialect=dialect)
    number = tool.tool.number
    try:
        report = run_program(text, whole, mill, branching=dialect == "branch")
    except ProgramError as error:
        lowest = tool.search_to_z if error.code == "no-trigger" else None
        return Outcome(number, failed=error.message, code=error.code, lowest=lowest, seconds=mill.clock_s, program=text)
    except NonnaError as error:
        return Outcome(number, failed=error.message, code=error.code, seconds=mill.clock_s, program=text)
    tops = tuple(round(z, 4) for name, z in report.results if name.endswith("length"))
    sides = tuple((name.split()[-1], round(x, 4)) for name, x in report.results if not name.endswith("length"))
    turn = {t.axis == "z": t.feeds.slow_mm_min / t.rpm for t in tool.touches if t.rpm and t.feeds is not None}
    return Outcome(
        number, tops, sides, turn.get(True, 0.0), turn.get(False, 0.0), report.seconds, program=text,
    )  # fmt: skip
