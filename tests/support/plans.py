"""Machines, tools and plans that rehearsals begin with."""

import copy
import json

from nonna import demo
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.language.blocks import parse
from nonna.programs.language.drive import Trip
from nonna.programs.language.interpreter import run
from nonna.programs.writing.writer import write
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tools
from nonna.stations.mill.planning.plan import plan_job

LARCH = json.loads((demo.FOLDER / "machines" / "larch.json").read_text()) | {"spindle": None, "spindle_orient": False}


TABLE = json.loads((demo.FOLDER / "tools" / "larch.json").read_text())


MACHINE = Machine.model_validate(LARCH)


TOOLS = Tools.model_validate(TABLE)


def machine_with(setter=None, **more):
    made = copy.deepcopy(LARCH) | more
    made["setter"] |= setter or {}
    return Machine.model_validate(made)


def planned(rows, machine=MACHINE, touches=2, accuracy=0.005, dialect="rs274"):
    tools = [JobTool.model_validate({**row, "measure": row.get("measure", ["length"])}) for row in rows]
    made = plan_job(machine, tools, touches, accuracy)
    return made, write(made.program, dialect=dialect_of(dialect))


def table(*rows):
    return Tools.model_validate({"format": "nonna-tools/1", "tools": list(rows)})


KIND = {
    "drill": {"point_angle_deg": 118}, "tap": {}, "reamer": {}, "spot-drill": {"point_angle_deg": 90}, "end-mill": {},
    "ball-mill": {},
    "bull-mill": {"corner_radius_mm": 0.5}, "face-mill": {"centre_cutting": False},
    "chamfer-mill": {"tip_diameter_mm": 1.0},
    "slitting-saw": {"tip_diameter_mm": 1.0}, "t-slot": {}, "dovetail": {}, "thread-mill": {}, "boring-bar": {},
    "probe": {}, "master": {},
}  # fmt: skip


def drill(**more):
    return {
        "number": 2,
        "kind": "drill",
        "diameter_mm": 8.5,
        "length_mm": 112.418,
        "length_uncertainty_mm": 0.5,
        **more,
    }


HEAD = "%\n(somebody's own)\nG21 G90 G94 G17 G40 G49 G80\n"


TOUCH = (
    HEAD
    + "M5\nG53 G0 Z0\nT2 M6\nG53 G0 X720 Y60\nG53 G0 Z-330\nG38.2 Z-345 F200\nG91 G0 Z1\nG90\nG38.2 Z-345 F20\n#500 "
    "= #5063\nG53 G0 Z0\nM30\n%\n"
)


def ran(text):
    machine = Recorder()
    return run(parse(text), machine), machine


class Recorder:
    """A machine that writes down what it is told and triggers at Z -50."""

    def __init__(self):
        self.position, self.clock_s, self.log = (0.0, 0.0, 0.0), 0.0, []

    def move(self, target, feed_mm_min, line):
        self.log.append(("move", tuple(round(v, 6) for v in target), feed_mm_min))
        self.position = target

    def probe(self, target, feed_mm_min, line):
        self.log.append(("probe", target, feed_mm_min))
        if target[2] > -50.0:
            return None
        self.position = (target[0], target[1], -50.0)
        return Trip(self.position, self.position)

    def dwell(self, seconds, line):
        self.log.append(("dwell", seconds))

    def spindle(self, direction, rpm, line):
        self.log.append(("spindle", direction, rpm))

    def orient(self, degrees, line):
        self.log.append(("orient", degrees))

    def pause(self, line):
        self.log.append(("pause", line))

    def end(self, line):
        self.log.append(("end", line))

    def auxiliary(self, word, line):
        return False

    def change_tool(self, number, line):
        self.log.append(("tool", number))

    def tool_length(self, number, line):
        return {3: 98.77}.get(number, 0.0)
