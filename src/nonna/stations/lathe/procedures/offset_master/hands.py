"""Reference tool on a master in the chuck: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.offset_master.model import TURNS


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both axes, each at two angles of the chuck, twice."""
    shows = facts.setup.word("x_shows", "diameter")
    return tuple(
        Slot(
            {"axis": axis, "chuck_deg": turn}, f"{axis.upper()} {turn}° {i + 1}/2",
            f"Master's {words}, chuck at {turn}°: {as_shown(axis, shows)}", axis,
        )
        for axis, words in (("x", "diameter"), ("z", "face"))
        for turn in TURNS
        for i in range(2)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the master lightly, wipe it and the tip"),
        Step("Touch its diameter, twice; half a turn of the chuck by hand, twice again", "x"),
        Step("Its face likewise; where that lies was indicated before (F9)", "z"),
        Step("Sign"),
    )
