"""What a program's header says of the sheets that its printed touches go to: what they start from, by field."""

from __future__ import annotations

from collections.abc import Iterator

from nonna.procedures.listing import measuring
from nonna.programs.language.tables import decimals_of
from nonna.programs.writing.printed import sheet_line
from nonna.programs.writing.units import unit_of
from nonna.shop.cards.machine import Machine
from nonna.shop.texts.given import Plain
from nonna.stations.touched_tools import ToolPlan

ENOUGH = 2  #: touches that tell themselves how they scatter
_WIDTHS = {"x": "setter_width_mm", "y": "setter_width_y_mm"}
_CENTRES = {"x": "setter_centre_mm", "y": "setter_centre_y_mm"}


def sheet_lines(plan: ToolPlan, machine: Machine) -> Iterator[str]:
    """Yield a line for each sheet that takes a tool's touches; none of one that is refused."""
    setter, tool = machine.setter, plan.tool
    if plan.refused or setter is None:
        return
    step: dict[str, Plain] = {"resolution_mm": _step_mm(machine)}
    plane: dict[str, Plain] = {"trigger_plane_mm": setter.trigger_plane_mm, **step}
    tops = [t for t in plan.touches if t.axis == "z" and not t.tooth]
    sides = [t for t in plan.touches if t.axis != "z"]
    turned = [t.feeds.slow_mm_min / t.rpm if t.rpm and t.feeds is not None else 0.0 for t in (*tops[:1], *sides[:1])]
    turning: list[dict[str, Plain]] = [
        {"feed_per_rev_mm": round(feed, 9), "flutes": tool.edges} if feed else {} for feed in turned
    ]
    if tops and "length" in tool.measure:
        yield sheet_line(tool.number, measuring("length"), "length", plane | turning[0])
    if sides:
        axis = sides[0].axis
        setup: dict[str, Plain] = {_WIDTHS[axis]: setter.width_x_mm if axis == "x" else setter.width_y_mm}
        if len(sides) == 1:
            setup[_CENTRES[axis]] = setter.x_mm if axis == "x" else setter.y_mm
        yield sheet_line(tool.number, measuring("diameter"), "face", setup | step | turning[-1])
    if any(t.tooth for t in plan.touches):
        yield sheet_line(tool.number, measuring("teeth"), "tooth", step)
    if tops and "breakage" in tool.measure:
        names = ("reference_mm", "tolerance_short_mm", "tolerance_long_mm")
        check: dict[str, Plain] = {name: getattr(tool, name) for name in names}
        if tops[0].count < ENOUGH and machine.repeatability_mm:
            check["repeatability_mm"] = machine.repeatability_mm
        yield sheet_line(tool.number, measuring("breakage"), "length", check | plane | turning[0])


def _step_mm(machine: Machine) -> float:
    """Return the smallest step of a printed number."""
    if machine.control is None:
        return 0.0
    return round(unit_of(machine.control).mm * 10.0 ** -decimals_of(machine.control), 9)
