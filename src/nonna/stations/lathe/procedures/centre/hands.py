"""Centre line of the turret: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.stations.lathe.procedures.centre.model import SIDES

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two turns of the chuck, four sides each."""
    del facts
    return tuple(
        Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Dial on the {at.upper()} side of the bar", at)
        for i in range(TOUCHES)
        for at in SIDES
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step(
            "A ground bar in the station, the indicator in the chuck; bring the bar about on the axis, note machine "
            "X (F9)"
        ),
        *(Step(f"Turn the chuck: the {at.upper()} side", at) for at in SIDES),
        Step("Once round again, then sign"),
    )
