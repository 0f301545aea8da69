"""Artefact check: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.proof import artefact_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The error with its doubt beside the artefact's own."""
    artefact = facts.master("artefact")
    name = "diameter" if facts.variant in ("", "diameter") else "length"
    certified = artefact.number(f"U_{name}_mm", 0.0) * 2.0 / artefact.number("k", 2.0)
    estimate = result.quantity("error_mm").estimate if result else None
    return artefact_figure(
        certified, (estimate.value, estimate.expanded) if estimate else None,
        result.quantity("en").value if result else None, units,
    )  # fmt: skip
