"""Second side of a part: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures.facts import Caution, SheetFacts, Step
from nonna.stations.lathe.procedures.chuck.procedure import PROCEDURE as OF_THE_CHUCK
from nonna.stations.lathe.procedures.second_side import LISTED
from nonna.stations.lathe.procedures.second_side.evaluate import evaluate
from nonna.stations.lathe.procedures.second_side.model import SecondSideReadings


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the finished first side at full pressure, wiped"),
        Step("Turn in steps, probe the second side at each angle", "turn"),
        Step("Sign"),
    )


PROCEDURE = replace(
    OF_THE_CHUCK,
    listed=LISTED,
    model=SecondSideReadings,
    evaluation=evaluate,
    steps=steps,
    main_title="Run-out to the first side",
    caution=Caution(
        "Spindle stopped and the chuck at full pressure first",
        "The first side clamped in jaws bored to its size, or indicated true. Turn by the control in steps, hands "
        "out of the "
        "jaws, doors shut while anything moves.",
    ),
)
