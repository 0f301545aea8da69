"""Centre line of the turret: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import centre_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.stations.lathe.procedures.centre.model import SIDES
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The bar seen along the axis, where it stands and where it should."""
    del facts
    found = {q.name: q.value for q in result.quantities} if result else {}
    rows = {at: [as_number(r["value_mm"]) for r in readings if r["at"] == at] for at in SIDES}
    x = (
        (sum(rows["+x"]) / len(rows["+x"]) - sum(rows["-x"]) / len(rows["-x"])) / 2
        if rows["+x"] and rows["-x"]
        else None
    )
    return centre_figure({at for at in SIDES if rows[at]}, x, found.get("height_mm"), units)
