"""Tooth run-out: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.tooth_runout.model import TIMES, USUAL_TEETH


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two touches a tooth."""
    teeth = facts.tool_flutes or USUAL_TEETH
    return tuple(
        Slot({"tooth": tooth}, f"Tooth {tooth} {i + 1}/{TIMES}", f"Touch tooth {tooth}", "teeth")
        for tooth in range(1, teeth + 1)
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the inserts and the pad; mark tooth 1"),
        Step("Orient so that a tooth stands over the pad, touch, go on to the next", "teeth"),
        Step("Sign"),
    )
