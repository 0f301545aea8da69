"""Tool from the presetter: what the hands do."""

from __future__ import annotations

from nonna.procedures.presetter_tool.hands import STEPS, presetter_slots
from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.tool_from_presetter.model import FromPresetterReadings


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Length twice; the diameter too where its axis is calibrated."""
    return presetter_slots(facts)


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return STEPS


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What the display will show of what the table holds."""
    known = as_before(FromPresetterReadings, slot, readings, field)
    axis, setup = str(slot.fields["axis"]), facts.setup
    table = setup.number("expected_mm") if axis == "z" else facts.tool_diameter
    if known is not None or table is None:
        return known
    half = axis == "x" and setup.word("x_shows") == "radius"
    away = setup.number("transfer_mm", 0.0) if axis == "z" else 0.0
    return (table - away) / (2.0 if half else 1.0) - setup.number(f"{axis}_offset_mm", 0.0)
