"""Repeatability: what the hands do."""

from __future__ import annotations

from nonna.procedures.repeatability.model import ADVISED, RepeatabilityReadings
from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before
from nonna.shop.links.subjects import SubjectKind

SHEET_TOUCHES = {"ten": 10, "25": ADVISED}


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Ten touches are enough to carry on with; 25 are better."""
    count = SHEET_TOUCHES.get(facts.variant, 10)
    return tuple(Slot({}, f"{i + 1}/{count}", "Touch again", "touch") for i in range(count))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if facts.subject.kind is SubjectKind.ARM:
        first = (Step("Wipe the tip and the arm's stylus"), Step("Swing the arm out; spindle stopped"))
    else:
        first = (Step("Wipe taper, master and pad"), Step("Seat the master; spindle stopped"))
    return (
        *first,
        Step(f"Touch the same spot {SHEET_TOUCHES.get(facts.variant, 10)} times", "touch"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """About where the last touch was."""
    known = as_before(RepeatabilityReadings, slot, readings, field)
    return known if known is not None else facts.about.get("top")
