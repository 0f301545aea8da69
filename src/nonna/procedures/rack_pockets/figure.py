"""Rack pockets: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.rack import rack_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The row from above and from the side, deviations exaggerated; a bent clip stands out."""
    pockets = Given(result.extras).rows("pockets") if result else ()
    return rack_figure(pockets, len({r["pocket"] for r in readings}), units, facts.before.rows("pockets"))
