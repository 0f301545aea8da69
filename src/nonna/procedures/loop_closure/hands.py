"""Loop closure: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step
from nonna.shop.texts.given import as_number

TIMES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three heights through each chain."""
    del facts
    return tuple(
        Slot({"via": via}, f"{via} {i + 1}/{TIMES}", f"Height by the {via}", via)
        for via in ("tool", "probe")
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Cut a small step with a measured tool, or stand a block"),
        Step("Its height by the tool, with the tool's length", "tool"),
        Step("The same face by the probe, with its length", "probe"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """About what the other chain saw."""
    del facts, slot, field
    return as_number(readings[-1]["height_mm"]) if readings else None
