"""Measure a whole job on the stand-in, tool after tool, as its program asks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from nonna.shop.cards.machine import Machine, Tools
from nonna.standin.world import World
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import RunReport, try_program
from nonna.stations.mill.standin.trial import tried
from nonna.stations.mill.standin.truth import make, with_tools_changed
from nonna.stations.tool_program import ToolsPlan
from nonna.stations.touched_tools import ToolPlan

Progress = Callable[[int, int, str], None]  #: tools done, of how many, which one is touched


@dataclass(frozen=True, slots=True)
class Found:
    """What measuring one tool gave: gauge-line positions, or why it stopped."""

    number: int
    tops: tuple[float, ...] = ()
    sides: tuple[tuple[str, float], ...] = ()  #: (face, position)
    teeth: tuple[tuple[int, float], ...] = ()  #: (tooth, position)
    feed_per_rev: float = 0.0
    side_feed_per_rev: float = 0.0
    flutes: int = 0  #: edges that pass; 0: not known
    seconds: float = 0.0
    failed: str = ""
    code: str = ""
    lowest: float | None = None  #: how far the search went where nothing triggered
    program: str = field(default="", repr=False)


def measure_tools(
    plan: ToolsPlan,
    world: World,
    run: int,
    *,
    truth_of: Machine | None = None,
    go_on: bool = True,
    progress: Progress | None = None,
) -> tuple[Found, ...]:
    """Run a job's program on the stand-in: exactly the text that was rehearsed. Refused tools are left out.

    Where it stops at a tool and ``go_on`` is set, the rest is written anew, rehearsed, and run in its turn.
    Parameters: truth_of, the machine's papers, from which the stand-in's truth is made (the trial's without);
    progress is told as each tool is taken up, what it raises stops the job. The seed of the truth is the world's.
    Raises: NonnaError (the text did not rehearse clean; nothing is run then).
    """
    trial, first, tools = plan.trial, plan.program, list(plan.asked.table)
    trial.must_be_clean()
    if first is None:
        return ()
    wanted = [p for p in plan.tools if not p.refused]
    machine = truth_of or trial.machine
    truth = with_tools_changed(make(machine, tools, world.seed), world.longer)
    table = Tools(format="nonna-tools/1", tools=tools)
    found: list[Found] = []
    left, text, program = wanted, trial.text, first
    while left:
        mill = Mill(machine, truth, table, run + len(found))
        watch = _Watch(mill, [p.tool.number for p in wanted], progress)
        report = try_program(text, program, mill, watch, dialect=trial.dialect)
        made, left = _outcomes(left, report, watch, text)
        found += made
        if left and not go_on:
            break
        if left:
            program = replace(first, touches=tuple(t for p in left for t in p.touches))
            text = plan.asked.writer.write(program)
            again = tried(text, trial.machine, table, dialect=trial.dialect)
            again.must_be_clean()
    return tuple(found)


class _Watch:
    """Follows a run: which tool is in the spindle, and how long each took."""

    def __init__(self, mill: Mill, order: Sequence[int], progress: Progress | None) -> None:
        self._mill, self._order, self._progress = mill, order, progress
        self._at, self._since = 0, 0.0
        self.seconds: dict[int, float] = {}

    def __call__(self, line: int, of: int, seconds: float) -> None:
        del line, of
        tool = self._mill.tool
        if self._at:
            self.seconds[self._at] = seconds - self._since
        if tool != self._at:
            self._at, self._since = tool, seconds
            if self._progress is not None and tool in self._order:
                self._progress(self._order.index(tool), len(self._order), f"T{tool}")


def _outcomes(
    left: Sequence[ToolPlan], report: RunReport, watch: _Watch, text: str
) -> tuple[list[Found], list[ToolPlan]]:
    """Return what each tool gave, up to where the run stopped, and the tools it did not come to."""
    found: list[Found] = []
    for i, plan in enumerate(left):
        number = plan.tool.number
        whole = all(len(report.of(touch)) == touch.count for touch in plan.touches)
        seconds = watch.seconds.get(number, 0.0)
        if whole:
            found.append(_measured(plan, report, seconds, text))
            continue
        error = report.stopped
        words = error.message if error else "the program ended before it was touched"
        code = error.code if error else "no-trigger"
        lowest = plan.search_to_z if code == "no-trigger" else None
        found.append(Found(number, failed=words, code=code, lowest=lowest, seconds=seconds, program=text))
        return found, list(left[i + 1 :])
    return found, []


def _measured(plan: ToolPlan, report: RunReport, seconds: float, text: str) -> Found:
    tops = tuple(round(z, 4) for t in plan.touches if t.axis == "z" and not t.tooth for z in report.of(t))
    teeth = tuple((t.tooth, round(z, 4)) for t in plan.touches if t.tooth for z in report.of(t))
    sides = tuple((t.name.split()[-1], round(x, 4)) for t in plan.touches if t.axis != "z" for x in report.of(t))
    turn = {t.axis == "z": t.feeds.slow_mm_min / t.rpm for t in plan.touches if t.rpm and t.feeds is not None}
    return Found(
        plan.tool.number, tops, sides, teeth, turn.get(True, 0.0), turn.get(False, 0.0), plan.tool.edges, seconds,
        program=text
    )  # fmt: skip
