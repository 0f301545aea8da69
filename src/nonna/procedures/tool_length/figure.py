"""Tool length: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Bench, Readings
from nonna.wording.lengths import Units, length


def figure(bench: Bench, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool over the pad, to scale."""
    long = bench.setup.number("expected_mm") or 100.0
    words = f"table {length(long, units)}" if bench.setup.number("expected_mm") else "length not known"
    if result is not None:
        long = result.quantity("length_mm").value
        words = length(long, units)
    return over_setter(
        f"{bench.subject.words} over the setter", bench.tool_kind, bench.tool_diameter, long,
        pad=bench.pad_width, gap=0.0 if readings else 12.0, plane="trigger plane", length_words=words,
        known=result is not None or bool(bench.setup.number("expected_mm")),
    )  # fmt: skip
