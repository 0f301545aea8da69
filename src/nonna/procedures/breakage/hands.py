"""Breakage: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """One touch: a check has to be quick."""
    del facts
    return (Slot({}, "Touch", "Touch the tip", "touch"),)


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (Step("Blow the chips off, doors shut"), Step("Touch once", "touch"), Step("Sign"))


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """Where the whole tool would trigger."""
    del slot, readings, field
    plane, reference = facts.setup.number("trigger_plane_mm"), facts.setup.number("reference_mm")
    return plane + reference if plane is not None and reference is not None else None
