"""Setter calibration: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.figures.tool import master_beside_pad
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.setter_calibration.hands import free_axes, slots
from nonna.procedures.sheet import Readings, SheetFacts, asked_face
from nonna.wording.lengths import Units, length


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The master over the pad, or at the side that is asked for, to scale."""
    master, asked = facts.master("master"), asked_face(slots(facts), readings)
    if asked not in ("", "top"):
        faces = [f"{sign}{axis}" for axis in free_axes(facts) for sign in "+-"]
        touched = {str(r.get("face")) for r in readings} - {asked}
        wide = master.number("diameter_mm") or 16.0
        return master_beside_pad(wide, facts.pad_width, asked, touched, faces, square=facts.pad_square)
    long = master.number("length_mm", 0.0)
    kind = "master" if facts.variant in ("", "master") else "block"
    plane = "trigger plane"
    if result is not None and any(q.name == "trigger_plane_mm" for q in result.quantities):
        plane = f"Z {length(result.quantity('trigger_plane_mm').value, units, unit=False)}"
    title = {"master": "Master over the setter, its length at 20 °C", "block": "Block under the spindle face"}[kind]
    if long == 0.0:
        title = "Spindle face over the setter"
    return over_setter(
        title, kind, master.number("diameter_mm") or (30.0 if kind == "block" else 16.0), long,
        pad=facts.pad_width, gap=0.0 if readings else 12.0, plane=plane,
        length_words=length(long, units),
    )  # fmt: skip
