"""Gauge study: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step

PARTS, APPRAISERS, REPEATS, ALONE = 5, 2, 2, 10


def kind_of_study(facts: SheetFacts) -> str:
    """Return whether one operator studies the gauge on a master, or several on parts: "single" or "crossed"."""
    return facts.setup.word("kind", facts.variant or "crossed")


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Part by part in turn, each person; one part, again and again."""
    if kind_of_study(facts) == "single":
        return tuple(
            Slot({"part": 1, "appraiser": 1}, f"{i}/{ALONE}", "Measure the part", "part") for i in range(1, ALONE + 1)
        )
    return tuple(
        Slot(
            {"part": part, "appraiser": who},
            f"P{part} by {who}, {turn}",
            f"Part {part}, person {who}",
            f"person-{who}",
        )
        for turn in range(1, REPEATS + 1)
        for who in range(1, APPRAISERS + 1)
        for part in range(1, PARTS + 1)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if kind_of_study(facts) == "single":
        return (
            Step("Wipe part and gauge"),
            Step("Measure it again and again, taken off in between", "part"),
            Step("Sign"),
        )
    people = [
        Step(f"Person {who}: all parts, in any order, without seeing what was read", f"person-{who}")
        for who in range(1, APPRAISERS + 1)
    ]
    return (Step("Number the parts; take them from the whole range that is made"), *people, Step("Sign"))
