"""Tool length: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.tool_length.model import ToolLengthReadings

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the tip", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the tip and the pad"),
        Step("Tool in the spindle, spindle stopped"),
        Step("Touch the tip three times", "touch"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """The length in the table above the trigger plane."""
    known = as_before(ToolLengthReadings, slot, readings, field)
    plane, table = facts.setup.number("trigger_plane_mm"), facts.setup.number("expected_mm")
    if known is not None or plane is None or table is None:
        return known
    return float(plane) + float(table)
