"""Probe length: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the surface", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    first = {
        "block": "Stand the block where its top's height is known (F9); wipe ball and block",
        "cut": "Face a spot with a measured tool; its Z less the tool's length is the surface (F9)",
    }.get(facts.variant, "Wipe taper, ball and pad")
    return (
        Step(first),
        Step("Seat the probe, wake it, spindle locked"),
        Step("Touch the surface three times", "touch"),
        Step("Sign"),
    )
