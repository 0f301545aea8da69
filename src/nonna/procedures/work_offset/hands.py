"""Work offset: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the part", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    what = {"tool": "tool", "block": "tool, on the block or sensor"}.get(facts.variant, "probe")
    return (
        Step("Wipe the part's face and what touches it"),
        Step(f"Touch three times with the {what}", "touch"),
        Step("Sign"),
    )
