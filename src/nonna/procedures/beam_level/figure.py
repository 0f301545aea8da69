"""Beam level: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.level import beam_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The beam from the side and from above, exaggerated."""
    found = None
    if result is not None:
        found = (result.quantity("z_deviation_mm").value, result.quantity("cross_deviation_mm").value)
    taken = {end: sum(1 for r in readings if r["end"] == end) for end in ("A", "B")}
    return beam_figure(facts.setup.number("span_mm", 100.0), taken, found, units)
