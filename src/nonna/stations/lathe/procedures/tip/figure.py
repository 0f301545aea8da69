"""Tip on the arm: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import tip_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.stations.lathe.ways import way_of
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tip over the arm with the faces its edges look at."""
    way = way_of(facts.variant)
    found = {q.title: q.value for q in result.quantities if q.name.startswith("offset")} if result else {}
    touched = {str(r.get("face") or r["axis"]) for r in readings}
    return tip_figure(way.words, way.faces, touched, found, units, way.shape)
