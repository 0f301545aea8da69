"""Part on the lathe: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import part_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The feature with its tolerance band and where it came out."""
    setup = facts.setup
    found = None
    if result is not None:
        error = result.quantity("error_mm")
        found = (error.value, error.estimate.expanded if error.estimate else 0.0)
    lower, upper = setup.number("lower_mm"), setup.number("upper_mm")
    limits = (lower, upper) if lower is not None and upper is not None else None
    return part_figure(setup.word("feature", "diameter"), {str(r["at"]) for r in readings}, found, limits, units)
