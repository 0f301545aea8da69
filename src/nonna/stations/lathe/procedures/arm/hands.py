"""Arm calibration: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.arm.model import FACES

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Each face twice."""
    shows = facts.setup.word("x_shows", "diameter")
    return tuple(
        Slot(
            {"face": face},
            f"{face} {i + 1}/{TOUCHES}",
            f"Tip on the {face} side of the stylus: {as_shown(face[1], shows)}",
            face,
        )
        for face in FACES
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Turret away, no tool in its way: swing the arm out; wipe stylus and reference tip"),
        Step("Reference tip on the +X side, touch towards the axis", "+x"),
        Step("On the -X side, as far as it reaches", "-x"),
        Step("On the +Z side, towards the chuck", "+z"),
        Step("On the -Z side", "-z"),
        Step("The second touch of each face after swinging in and out again: that is what scatters"),
        Step("Sign, swing the arm in"),
    )
