"""Second side of a part: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Step


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the finished first side at full pressure, wiped"),
        Step("Turn in steps, probe the second side at each angle", "turn"),
        Step("Sign"),
    )
