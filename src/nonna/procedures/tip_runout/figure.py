"""Tip run-out: its drawing."""

from __future__ import annotations

import math

from nonna.figures.figure import Figure
from nonna.figures.polar import runout_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.procedures.tip_runout.hands import slots
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The dial round the axis, with the fitted circle and the screws."""
    cosine = math.cos(math.radians(facts.setup.part("indicator").number("lever_deg", 0.0)))
    points = [(as_number(r["angle_deg"]), as_number(r["value_mm"]) * cosine) for r in readings]
    found = None
    if result is not None:
        found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
    next_angle = None
    taken = {r["angle_deg"] for r in readings}
    left = [as_number(s.fields["angle_deg"]) for s in slots(facts) if s.fields["angle_deg"] not in taken]
    if left and result is None:
        next_angle = left[0]
    return runout_figure(points, facts.setup.numbers("screws_deg"), found, next_angle, units,
                         tuple(m.screw for m in result.moves) if result else ())  # fmt: skip
