"""Home check: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before
from nonna.stations.router.procedures.home_check.model import NAMES, HomeReadings

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches an axis, the top first."""
    del facts
    return tuple(
        Slot({"axis": axis}, f"{NAMES[axis]} {i + 1}/{TOUCHES}", f"Touch the pin in {NAMES[axis]}", axis)
        for axis in ("z", "x", "y")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Home the axes; wipe pin and rod"),
        Step("Touch its top", "z"),
        Step("Its X side, always the same one", "x"),
        Step("Its Y side, always the same one", "y"),
        Step("Sign"),
    )


def axis_of(field: str, slot: Slot | None) -> str:
    """Each reading is on the axis it names."""
    del field
    return str(slot.fields["axis"]) if slot else ""


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """The same touch before, else where the pin was found first."""
    known = as_before(HomeReadings, slot, readings, field)
    pin = facts.setup.number(f"pin_{slot.fields['axis']}_mm")
    return pin if known is None else known
