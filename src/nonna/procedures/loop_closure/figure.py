"""Loop closure: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.proof import closure_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Two ways to one surface."""
    taken = {via: [as_number(r["height_mm"]) for r in readings if r["via"] == via] for via in ("tool", "probe")}
    estimate = result.quantity("difference_mm").estimate if result else None
    return closure_figure(taken, (estimate.value, estimate.expanded) if estimate else None, units)
