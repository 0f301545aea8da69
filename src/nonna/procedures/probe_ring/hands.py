"""Probe ring: what the hands do."""

from __future__ import annotations

from nonna.procedures.probe_ring.model import DIRECTIONS
from nonna.procedures.sheet import SheetFacts, Slot, Step

_COMPASS = ("+X", "+X+Y", "+Y", "−X+Y", "−X", "−X−Y", "−Y", "+X−Y")


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Eight directions, at 0° and, where the spindle orients, at 180°."""
    turns = (0, 180) if not facts.variant.endswith("-0") else (0,)
    return tuple(
        Slot({"spindle_deg": turn}, f"{turn}° {_COMPASS[i]}", f"At {turn}°, towards {_COMPASS[i]}: X", f"at {turn}",
             (f"At {turn}°, towards {_COMPASS[i]}: Y",))
        for turn in turns
        for i in range(DIRECTIONS)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    what = "round the pin" if facts.variant.startswith("external") else "in the ring"
    how = "touch twice, note the slow touch, in" if facts.variant.endswith("-two") else "touch"
    second = () if facts.variant.endswith("-0") else (Step("Orient the spindle to 180°, the same again", "at 180"),)
    return (
        Step("Wipe ring and ball; let the ring take the machine's temperature"),
        Step(f"Spindle oriented to 0°: {how} eight directions {what}", "at 0"),
        *second,
        Step("Sign"),
    )
