"""Presetter calibration: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.presetter import corrections_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The corrections over the travel with their band, and the masters on them."""
    shown = {
        role: [as_number(r["value_mm"]) for r in readings if r["axis"] == "z" and r["master"] == role]
        for role in ("low", "high", "proof")
    }
    names = {q.name: q for q in result.quantities} if result else {}
    line = None
    if "z_offset_mm" in names:
        offset, scale = names["z_offset_mm"], names["z_scale_ppm"]
        line = (
            names["z_pivot_mm"].value, offset.value, offset.estimate.expanded if offset.estimate else 0.0,
            scale.value / PPM, scale.estimate.expanded / PPM if scale.estimate else 0.0,
        )  # fmt: skip
    error = names["z_proof_error_mm"].value if "z_proof_error_mm" in names else None
    marks = {role: sum(values) / len(values) for role, values in shown.items() if values}
    return corrections_figure("Length: what is put right, over the travel", marks, line, error, units)
