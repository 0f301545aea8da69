"""The prober's programs: `P` and a tool's number, ten times; what comes back are ten readings a tool."""

from nonna.errors import NonnaError
from nonna.programs.writing.results import LeftIn
from nonna.standin.rehearsal import Rehearsal, Trial
from nonna.stations.tool_program import Outcome, Taken, ToolsPlan

TIMES = 10


class Prober:
    live = False

    def plan(self, asked, told, check):
        text = "".join(f"P{tool.number}\n" * TIMES for tool in asked.tools)
        told(len(asked.tools), len(asked.tools))
        trial = Trial(text, asked.dialect, asked.machine, self.rehearse(text, asked.machine, None, asked.dialect))
        return ToolsPlan(asked, trial, tuple(LeftIn(t.number, "z", 100 * t.number, TIMES) for t in asked.tools))

    def look(self, asked):
        return None

    def rehearse(self, text, machine, tools, dialect, *, sweep=True, seed=0, check=None, kept=None, held=None):
        return Rehearsal(float(len(text.splitlines())), (), (), {})

    def run(self, plan, papers, world, number, go_on, told):
        rows = [{"value_mm": 0.001 * (i % 3)} for i in range(TIMES)]
        return tuple(Outcome(each, (Taken("repeatability", rows),), program=plan.trial.text) for each in plan.numbers)

    def read_back(self, touches, plan, tools):
        by = {}
        for touch in touches:
            by.setdefault(touch.tool, []).append({"value_mm": touch.position_mm})
        return tuple(Outcome(number, (Taken("repeatability", rows),)) for number, rows in by.items())

    def dry_run(self, plan):
        return None

    def template_faults(self, templates, machine):
        return ()

    def piece(self, asked, tolerance_mm):
        raise NonnaError("out-of-range", "There are no pieces here.", "tools")


PROGRAM = Prober()
