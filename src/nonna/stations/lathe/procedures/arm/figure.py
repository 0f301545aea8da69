"""Arm calibration: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import arm_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts, asked_face
from nonna.stations.lathe.procedures.arm.hands import slots
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The arm's stylus with the faces that were touched."""
    widths = {q.name[6]: q.value for q in result.quantities if q.name.startswith("width_")} if result else {}
    return arm_figure({str(r["face"]) for r in readings}, widths, units, asked_face(slots(facts), readings))
