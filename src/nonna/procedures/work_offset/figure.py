"""Work offset: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units, length


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """What touches over the part."""
    long = facts.setup.number("tool_length_mm") or 0.0
    offset = "part" if result is None else f"W {length(result.quantity('offset_mm').value, units, unit=False)}"
    kind = "probe" if facts.variant in ("", "probe") else "end-mill"
    return over_setter(
        "What touches, over the part", kind, 6.0 if kind == "probe" else facts.tool_diameter,
        long if long > 0 else 100.0,
        pad=60.0, part=True, gap=0.0 if readings else 12.0, plane=offset,
        length_words=length(long, units) if long > 0 else "length not known yet", known=long > 0,
    )  # fmt: skip
