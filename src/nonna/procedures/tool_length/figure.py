"""Tool length: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units, length


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool over the pad, to scale."""
    long = facts.setup.number("expected_mm") or 100.0
    words = f"table {length(long, units)}" if facts.setup.number("expected_mm") else "length not known"
    if result is not None:
        long = result.quantity("length_mm").value
        words = length(long, units)
    return over_setter(
        f"{facts.subject.words} over the setter", facts.tool_kind, facts.tool_diameter, long,
        pad=facts.pad_width, gap=0.0 if readings else 12.0, plane="trigger plane", length_words=words,
        known=result is not None or bool(facts.setup.number("expected_mm")),
    )  # fmt: skip
