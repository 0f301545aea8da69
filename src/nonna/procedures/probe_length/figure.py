"""Probe length: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units, length

ABOUT_MM = 120.0  #: drawn until the first result


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The probe over the setter, to scale once its length is known."""
    known = None if result is None else result.quantity("probe_length_mm").value
    return over_setter(
        {"block": "Probe over a block", "cut": "Probe over a test cut"}.get(facts.variant, "Probe over the setter"),
        "probe",
        6.0,
        known if known is not None and known > 0.0 else ABOUT_MM,
        pad=facts.pad_width,
        gap=0.0 if readings else 12.0,
        plane="surface",
        part=facts.variant in ("block", "cut"),
        length_words="length not known yet" if known is None else length(known, units),
        known=known is not None,
    )
