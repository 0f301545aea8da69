"""Tool on the presetter: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.presetter import tool_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool in the presetter's spindle, with the two lines it is measured by."""
    del readings
    found = {q.name: q for q in result.quantities} if result else {}
    long = found["length_mm"].value if "length_mm" in found else facts.setup.number("expected_length_mm")
    wide = found["diameter_mm"].value if "diameter_mm" in found else facts.tool_diameter
    return tool_figure(facts.tool_kind, float(wide or 10.0), float(long or 100.0), "length_mm" in found, units)
