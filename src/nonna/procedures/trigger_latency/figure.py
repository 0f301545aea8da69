"""Trigger latency: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lateness import late_line
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.procedures.trigger_latency.hands import feeds_of_sheet
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Where it latched against the feed, with the line."""
    touches = [(as_number(r["feed_mm_min"]), as_number(r["position_mm"])) for r in readings]
    found = {q.name: q.value for q in result.quantities} if result else {}
    sign = 1.0 if facts.setup.word("towards") == "plus" else -1.0
    line = (found["plane_mm"], sign * found["latency_s"]) if found else None
    return late_line(touches, line, [feed for _, feed in feeds_of_sheet(facts.setup)], units)
