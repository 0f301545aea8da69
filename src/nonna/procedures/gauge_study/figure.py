"""Gauge study: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.gauge import gauge_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.gauge_study.hands import kind_of_study
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Every reading of every part, a colour a person."""
    del result
    points: dict[str, dict[str, list[float]]] = {}
    for r in readings:
        points.setdefault(str(as_number(r["part"])), {}).setdefault(str(as_number(r["appraiser"])), []).append(
            as_number(r["value_mm"])
        )
    return gauge_figure(points, facts.setup.number("reference_mm") if kind_of_study(facts) == "single" else None, units)
