"""Drawings of the tray: a tool over the setter as it will be touched, the machine from the side and from above."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.catalogue import procedure
from nonna.procedures.facts import SheetFacts
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.shop.cards.machine import Tool
    from nonna.stations.touched_tools import ToolPlan

METHODS = {
    "centre-static": "At its centre, standing still",
    "offset-rotating": "Off centre, turning backwards",
    "rim-rotating": "Under its rim, turning backwards",
    "edge-oriented": "Its edge over the pad, oriented, standing still",
}


def measured_figure(procedure_name: str, tool: Tool, units: Units) -> Figure:
    """Draw a tool as the sheet of its procedure does, before a reading was taken."""
    setup = Given({"expected_length_mm": tool.length_mm, "expected_diameter_mm": tool.diameter_mm})
    facts = SheetFacts(setup=setup, subject=tool.subject, tool_kind=tool.kind, tool_diameter=tool.diameter_mm)
    return procedure(procedure_name).figure(facts, [], None, units)


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
