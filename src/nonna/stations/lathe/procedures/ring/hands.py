"""Probe in the ring, lathe: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both sides, three times each."""
    axis = facts.setup.word("axis", "x")
    return tuple(
        Slot(
            {"at": at},
            f"{at} {i + 1}/{TOUCHES}",
            f"Touch on the {at}{axis.upper()} side: {as_shown(axis, facts.setup.word('x_shows'))}",
            at,
            on=axis,
        )
        for at in ("+", "-")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    where = "round the pin" if facts.setup.word("side") == "external" else "in the ring"
    return (
        Step("Wipe ring and stylus; the ring in the chuck, indicated true"),
        Step(f"Touch {where} on the + side", "+"),
        Step("On the - side", "-"),
        Step("Sign"),
    )
