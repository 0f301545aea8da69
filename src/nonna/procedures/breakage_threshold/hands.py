"""Breakage threshold: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Nothing is measured."""
    del facts
    return ()


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (Step("Say what is wanted (F9)"), Step("Sign"))
