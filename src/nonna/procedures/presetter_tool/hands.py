"""Tool on the presetter: what the hands do."""

from __future__ import annotations

from nonna.procedures.presetter_tool.model import NAMES, PresetterToolReadings
from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before

TOUCHES = 2


STEPS = (
    Step("Wipe taper and holder; seat the tool"),
    Step("Turn it to the longest edge; read the length", "z"),
    Step("Turn it to the widest edge; read the diameter", "x"),
    Step("Sign"),
)


def presetter_slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Return the readings of a tool: its length twice, the diameter too where its axis is calibrated."""
    axes = ("z", "x") if facts.setup.number("x_offset_mm") is not None else ("z",)
    return tuple(
        Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", f"{NAMES[axis][1]} shown", axis)
        for axis in axes
        for i in range(TOUCHES)
    )


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Length twice; the diameter too where its axis is calibrated."""
    return presetter_slots(facts)


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return STEPS


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What the table holds, as the display will show it."""
    known = as_before(PresetterToolReadings, slot, readings, field)
    axis = str(slot.fields["axis"])
    table = facts.setup.number(f"expected_{NAMES[axis][0]}_mm")
    if known is not None or table is None:
        return known
    half = axis == "x" and facts.setup.word("x_shows") == "radius"
    return table / (2.0 if half else 1.0) - (facts.setup.number(f"{axis}_offset_mm") or 0.0)
