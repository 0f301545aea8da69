"""Trigger latency: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.trigger_latency.model import FEEDS_MM_MIN
from nonna.shop.texts.given import Given

TOUCHES = 5


def feeds_of_sheet(setup: Given) -> tuple[tuple[str, float], ...]:
    """Return the three feeds of a sheet by what they are called."""
    names = ("slow", "middle", "fast")
    return tuple(
        (name, setup.number(f"{name}_mm_min", 0.0) or usual) for name, usual in zip(names, FEEDS_MM_MIN, strict=True)
    )


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Five touches at each feed, the slow one first."""
    return tuple(
        Slot({"feed_mm_min": feed}, f"{feed:g} {i + 1}/{TOUCHES}", f"Touch at {feed:g} mm/min", name)
        for name, feed in feeds_of_sheet(facts.setup)
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    return (
        Step("Master or a blunt tool in the spindle, stopped; wipe both faces"),
        Step("Same start height for all, 5 mm above the pad"),
        *(Step(f"Touch {TOUCHES} times at {feed:g} mm/min", name) for name, feed in feeds_of_sheet(facts.setup)),
        Step("Sign"),
    )
