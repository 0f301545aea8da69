"""Tools measured by program without a window: planned, run on the stand-in, read back."""

from nonna.bench.job.measuring import judged_of, on_standin, planned_now, read_back
from nonna.bench.tray.tray import Tray
from nonna.programs.writing.results import Touched
from nonna.programs.writing.writer import Writer
from nonna.stations.tool_program import ToolsAsked, ToolsPlan
from tests.support.dialects import RS274


def tools_program(site, numbers, dialect=RS274, rounds=1):
    tray = Tray(tools=site.tools, touches=rounds, dialect=dialect)
    return planned_now(site, tray, numbers, site.results())


def run_on_standin(site, plan, world):
    return on_standin(plan, site, world, True, lambda *_: None)


def judged_each(site, readings, source):
    touches = [Touched(n, row["position_mm"], row["axis"]) for n, rows in readings.items() for row in rows]
    return judged_of(read_back(touches, None, site), site, source)


def as_plan(job, trial, tools, writer=None):
    asked = ToolsAsked(trial.machine, tuple(tools), tuple(p.tool for p in job.tools), writer or Writer())
    return ToolsPlan(asked, trial, (), job.tools, job.program)
