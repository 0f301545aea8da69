"""Reference tool by test cut: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import test_cut_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The cut in the chuck."""
    del facts
    sizes = [as_number(r["value_mm"]) for r in readings if r["axis"] == "x"]
    found = {q.title: q.value for q in result.quantities} if result else {}
    return test_cut_figure(sum(sizes) / len(sizes) if sizes else None, found, units)
