"""Probe ring: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.polar import lobing_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.probe_ring.model import DIRECTIONS
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The lobing map: each direction's radius, exaggerated."""
    if result is None:
        turned = "180°" if len(readings) >= DIRECTIONS else "0°"
        return lobing_figure((), None, len(readings), f"spindle at {turned}", units)
    found = Given(result.extras)
    points = [(row.needed("direction_deg"), row.needed("radius_mm")) for row in found.rows("lobing_map")]
    return lobing_figure(points, found.part("harmonics"), len(readings), "", units)
