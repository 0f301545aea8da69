"""Repeatability: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.plots import run_chart
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Each touch about the mean."""
    outliers = [int(i) for i in Given(result.extras).numbers("outliers")] if result else ()
    return run_chart("Each touch about the mean", [as_number(r["value_mm"]) for r in readings], outliers, units)
