"""Second side of a part: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures.facts import Caution, SheetFacts, Step
from nonna.stations.lathe.procedures.chuck.procedure import PROCEDURE as OF_THE_CHUCK
from nonna.stations.lathe.procedures.chuck.procedure import SENTENCES as SAID_OF_THE_CHUCK
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


SENTENCES = {
    **SAID_OF_THE_CHUCK,
    "found-none": "The second side runs out {runout:small}, ± {U:small}, to the first, high at {high:0f}°.",
    "found-pass": "The second side runs out {runout:small}, ± {U:small}, to the first: within {limit:small}.",
    "found-fail": "The second side runs out {runout:small}, ± {U:small}, to the first, over {limit:small}, high at "
    "{high:0f}°.",
    "found-undecided": "The second side runs out {runout:small}, ± {U:small}, to the first: the doubt leaves "
    "{limit:small} open.",
    "fail": "Before it is cut: clamp again, or tap it in at {high:0f}° and indicate the first side true. It was cut "
    "already? Set it aside; bore the soft jaws to the first side's size.",
}


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
