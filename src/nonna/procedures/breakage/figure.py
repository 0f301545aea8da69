"""Breakage: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.tool import change_band
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The change between what counts as broken and pulled out."""
    setup = facts.setup
    found = None
    if result is not None and any(q.name == "change_mm" for q in result.quantities):
        estimate = result.quantity("change_mm").estimate
        found = (estimate.value, estimate.expanded) if estimate else None
    return change_band(
        setup.number("tolerance_short_mm", 0.0), setup.number("tolerance_long_mm", 0.0), setup.number("wear_mm", 0.0),
        found,
        str(result.extras.get("state", "")) if result else "", units,
    )  # fmt: skip
