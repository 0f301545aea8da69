"""Tooth run-out: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.teeth import teeth_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.procedures.tooth_runout.model import USUAL_TEETH
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The teeth round the cutter, how far each stands back."""
    back = {} if result is None else {int(t): as_number(d) for t, d in Given(result.extras).part("back_mm").items()}
    return teeth_figure(facts.tool_flutes or USUAL_TEETH, {int(as_number(r["tooth"])) for r in readings}, back, units)
