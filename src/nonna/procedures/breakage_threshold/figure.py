"""Breakage threshold: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.tool import two_distributions
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The two distributions and the tolerance between them."""
    setup = facts.setup
    return two_distributions(
        setup.number("sigma_mm") or 0.001, setup.number("drift_mm", 0.0), setup.number("smallest_break_mm") or 0.1,
        result.quantity("tolerance_mm").value if result else None, units,
    )  # fmt: skip
