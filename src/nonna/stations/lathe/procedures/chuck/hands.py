"""Chuck run-out: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.chuck.model import POSITIONS


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Six angles of the chuck."""
    named = as_shown("x", facts.setup.word("x_shows"))
    return tuple(
        Slot({"angle_deg": i * 360.0 / POSITIONS}, f"{i * 360 / POSITIONS:g}°",
            f"Probe at {i * 360 / POSITIONS:g}° of the chuck: {named}", "turn", on="x")
        for i in range(POSITIONS)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the part or bar at full pressure"),
        Step("Turn in steps, probe at each angle", "turn"),
        Step("Sign"),
    )
