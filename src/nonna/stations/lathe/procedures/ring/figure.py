"""Probe in the ring, lathe: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import ring_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The ball in the ring, or beside the pin."""
    size = facts.master("ring").number("diameter_mm") or 50.0
    ball = result.quantity("ball_diameter_mm").value if result else None
    inside = facts.setup.word("side", "internal") == "internal"
    return ring_figure(size, ball, inside, {str(r["at"]) for r in readings}, units)
