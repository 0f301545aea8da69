"""Tool diameter: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.tool import beside_pad
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts, asked_face
from nonna.procedures.tool_diameter.hands import slots
from nonna.procedures.tool_diameter.model import FACES
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool beside the pad, from above, to scale."""
    wide = facts.tool_diameter if result is None else result.quantity("diameter_mm").value
    sides = {str(r["face"]) for r in readings}
    faces = FACES[facts.variant or "both"]
    return beside_pad(
        wide,
        facts.pad_width,
        sides,
        faces=faces,
        known=result is not None,
        units=units,
        asked=asked_face(slots(facts), readings),
    )
