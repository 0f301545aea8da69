"""Presetter transfer: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.presetter import transfer_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The differences over the length, with the band for the next tool."""
    points = [
        (as_number(r["presetter_mm"]), as_number(r["machine_mm"]) - as_number(r["presetter_mm"])) for r in readings
    ]
    names = {q.name: q.value for q in result.quantities} if result else {}
    line = facts.setup.word("model") == "line"
    found = (names["transfer_mm"], names["corrected_U_mm"]) if names else None
    slope = (names["trend_ppm"] / PPM, names["pivot_mm"]) if names and line else (0.0, 0.0)
    return transfer_figure(points, found, slope, units)
