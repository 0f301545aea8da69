"""Tip on the arm: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.tip.model import FLANKS
from nonna.stations.lathe.ways import way_of

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Each face its edges look at, twice."""
    way, shows = way_of(facts.variant), facts.setup.word("x_shows", "diameter")
    rows = [(face, face if way.other_flank and face in FLANKS else face[1]) for face in way.faces]
    return tuple(
        Slot(
            {"axis": face[1], "face": face} if group == face else {"axis": face[1]},
            f"{group.upper()} {i + 1}/{TOUCHES}",
            f"Touch the arm's {face} face: {as_shown(face[1], shows)}", group,
        )
        for face, group in rows
        for i in range(TOUCHES)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    way = way_of(facts.variant)
    touches = [
        Step(
            f"A few millimetres off the {face} face; then {face[1].upper()} alone, slowly",
            face if way.other_flank and face in FLANKS else face[1],
        )
        for face in way.faces
    ]
    tooth = Step("Drive stopped and locked out: by hand turn a tooth to the face, the same one for each touch of it")
    again = Step("The second touch of a face after swinging the arm in and out again: that is what scatters")
    return (
        Step("Arm out; wipe tip and stylus; choose which way it cuts (F9)"),
        *((tooth,) if way.turns else ()),
        *touches,
        again,
        Step("Sign, arm in"),
    )
