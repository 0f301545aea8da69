"""Chuck run-out: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.polar import runout_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.procedures.shown import XShows, real_per_shown
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The surface round the axis, with the fitted circle."""
    shows: XShows = "radius" if facts.setup.word("x_shows") == "radius" else "diameter"
    factor = real_per_shown("x", shows)
    points = [(as_number(r["angle_deg"]), as_number(r["position_mm"]) * factor) for r in readings]
    found = None
    if result is not None:
        found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
    return runout_figure(points, [], found, None, units, ())
