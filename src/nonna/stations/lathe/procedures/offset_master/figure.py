"""Reference tool on a master in the chuck: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import chuck_master_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The master in the chuck, the tip at its side."""
    size = facts.master("master").number("diameter_mm") or 20.0
    found = {q.title: q.value for q in result.quantities} if result else {}
    return chuck_master_figure(size, {str(r["axis"]) for r in readings}, found, units)
