"""Drawings of the tray: a tool over the setter as it will be touched, the machine from the side and from above."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import TYPE_CHECKING

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box
from nonna.figures.setter import over_setter
from nonna.procedures.catalogue import procedure
from nonna.procedures.sheet import Bench
from nonna.programs.boxes import Box
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.programs.plan import ToolPlan
    from nonna.shop.machine import Machine, Tool
    from nonna.standin.mill import PathPoint
    from nonna.standin.rehearsal import Rehearsal

METHODS = {
    "centre-static": "At its centre, standing still",
    "offset-rotating": "Off centre, turning backwards",
    "rim-rotating": "Under its rim, turning backwards",
    "edge-oriented": "Its edge over the pad, oriented, standing still",
}
MARGIN, AROUND = 30.0, 80.0


def measured_figure(procedure_name: str, tool: Tool, units: Units) -> Figure:
    """Draw a tool as the sheet of its procedure does, before a reading was taken."""
    setup = {"expected_length_mm": tool.length_mm, "expected_diameter_mm": tool.diameter_mm}
    bench = Bench(setup=setup, subject=tool.subject, tool_kind=tool.kind, tool_diameter=tool.diameter_mm)
    return procedure(procedure_name).figure(bench, [], None, units)


def touch_figure(tool: Tool, plan: ToolPlan | None, pad: float, units: Units, now: float | None) -> Figure:
    """Draw a tool over the setter as its plan touches it; seen along the axis it hangs over."""
    long = now or tool.length_mm
    words = length(long, units, unit=False) if long else "not known"
    x, y = plan.choice.offset_mm if plan else (0.0, 0.0)
    along = x or y
    name = f"T{tool.number} over the setter, {units.symbol}"
    if plan is not None and along:
        side = f"{'+' if along > 0 else '−'}{'x' if x else 'y'}"
        name += f"; {side} {'right' if along > 0 else 'left'}"
    turning = f"{plan.choice.rpm:.0f} rpm backwards" if plan and plan.choice.rpm else ""
    return over_setter(
        name, tool.kind, tool.diameter_mm, long or 100.0, pad=pad, gap=0.0 if plan and not plan.refused else 12.0,
        plane="trigger plane", length_words=words, known=long is not None, offset=along, turning=turning,
        offset_words=length(abs(along), units, unit=False) if along else "",
    )  # fmt: skip


def machine_figures(machine: Machine, found: Rehearsal, upto: int) -> tuple[Figure, Figure]:
    """Draw the rehearsal from the side (X, Z) and from above (X, Y), the tool where the path stands at ``upto``."""
    path, here = found.path[: upto + 1], found.path[min(upto, len(found.path) - 1)] if found.path else None
    corners = [corner for o in machine.obstacles for corner in o.box_mm]
    x0, x1 = _span([*(p.x for p in found.path), *(c[0] for c in corners)], machine.travel_mm.x)
    y0, y1 = _span([*(p.y for p in found.path), *(c[1] for c in corners)], machine.travel_mm.y)
    floor = _floor(machine)
    top = machine.travel_mm.z[1]
    side: list[Stroke] = [box(x0, floor - 16, x1, floor, "faint", None)]
    above: list[Stroke] = [box(x0, y0, x1, y1, "ghost", "faint")]
    for obstacle in machine.obstacles:
        around = Box.between(obstacle.box_mm)
        low, high = around.low, around.high
        side.append(box(low[0], max(low[2], floor), high[0], high[2], "master", "muted"))
        side.append(Label(((low[0] + high[0]) / 2, high[2]), obstacle.name, "muted", 12, dy=-4))
        above.append(box(low[0], low[1], high[0], high[1], "master", "muted"))
        above.append(Label(((low[0] + high[0]) / 2, high[1]), obstacle.name, "muted", 12, dy=-4))
    s = machine.setter
    if s is not None:
        side.append(box(s.x_mm - s.width_x_mm / 2, floor, s.x_mm + s.width_x_mm / 2, s.trigger_plane_mm, "pad", None))
        above.append(
            box(
                s.x_mm - s.width_x_mm / 2,
                s.y_mm - s.width_y_mm / 2,
                s.x_mm + s.width_x_mm / 2,
                s.y_mm + s.width_y_mm / 2,
                "pad",
                None,
            )
        )
    if here is not None:
        tip = here.z - here.long
        side.append(box(here.x - here.wide / 2, tip, here.x + here.wide / 2, here.z, "steel", "ink"))
        side.append(box(here.x - 32, here.z, here.x + 32, min(top + 60, here.z + 70), "steel", "muted"))
        above.append(Circle((here.x, here.y), here.wide / 2, "steel", "ink"))
    side += _track([(p.x, p.z - p.long) for p in path], path)
    above += _track([(p.x, p.y) for p in path], path)
    for problem in found.problems:
        at = next((p for p in found.path if p.line >= problem.line), here)
        if at is not None:
            side.append(Circle((at.x, at.z - at.long), 9, None, "bad", 3.0, dot=True))
            above.append(Circle((at.x, at.y), 9, None, "bad", 3.0, dot=True))
    return (
        Figure("From the front: X to the right, Z up", (x0 - MARGIN, floor - 24, x1 + MARGIN, top + 76), tuple(side), "to scale; holders not drawn"),
        Figure("From above: X to the right, Y up", (x0 - MARGIN, y0 - MARGIN, x1 + MARGIN, y1 + MARGIN), tuple(above), "to scale"),
    )  # fmt: skip


def _span(values: Sequence[float], travel: Sequence[float]) -> tuple[float, float]:
    """Return what is shown along an axis: where the path goes and a good way round it, within the travel."""
    low, high = min(values, default=travel[0]), max(values, default=travel[1])
    return max(travel[0], low - AROUND), min(travel[1], high + AROUND)


def _floor(machine: Machine) -> float:
    """The table, as far as it is known: the foot of the setter or of an obstacle."""
    feet = [min(o.box_mm[0][2], o.box_mm[1][2]) for o in machine.obstacles]
    if machine.setter is not None:
        feet.append(machine.setter.trigger_plane_mm - machine.setter.height_mm)
    return min(feet, default=machine.travel_mm.z[0])


def _track(points: Sequence[tuple[float, float]], path: Sequence[PathPoint]) -> list[Stroke]:
    """Draw the tip's way, the newest part strongest; rapids dashed."""
    strokes: list[Stroke] = []
    newest = max(0, len(points) - 40)
    for i, (a, b) in enumerate(pairwise(points)):
        move = path[i + 1]
        if a == b or move.tool != path[i].tool:
            continue
        ink: Ink = "accent" if i >= newest else "muted"
        strokes.append(
            Line(
                a,
                b,
                "bad" if move.way == "probe" and i >= newest else ink,
                2.0 if i >= newest else 1.0,
                move.way == "rapid",
            )
        )
    return strokes[-400:]
