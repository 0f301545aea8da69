"""The second side of a part: how far it runs out to the first, which the chuck holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile
from nonna.procedures.sheet import Bench, Caution, Step
from nonna.stations.lathe.chuck import SENTENCES as OF_THE_CHUCK
from nonna.stations.lathe.chuck import ChuckRunout, ChuckSetup, ChuckTouch

SENTENCES = {
    **OF_THE_CHUCK,
    "found-none": "The second side runs out {runout:small}, ± {U:small}, to the first, high at {high:0f}°.",
    "found-pass": "The second side runs out {runout:small}, ± {U:small}, to the first: within {limit:small}.",
    "found-fail": "The second side runs out {runout:small}, ± {U:small}, to the first, over {limit:small}, high at {high:0f}°.",
    "found-undecided": "The second side runs out {runout:small}, ± {U:small}, to the first: the doubt leaves {limit:small} open.",
    "fail": "Before it is cut: clamp again, or tap it in at {high:0f}° and indicate the first side true. It was cut already? Set it aside; bore the soft jaws to the first side's size.",
}


class SecondSideReadings(ReadingsFile):
    """Readings file of a part's second side."""

    procedure: Literal["second-side"]
    setup: ChuckSetup
    readings: list[ChuckTouch]


class SecondSide(ChuckRunout):
    """As the chuck's run-out, of the second side while the first one is clamped: twice the eccentricity of the two."""

    name = "second-side"
    sentences = SENTENCES
    model = SecondSideReadings
    main_title = "Run-out to the first side"
    oval_mm = 0.005  #: what jaws make of a bored or thin part
    caution = Caution(
        "Spindle stopped and the chuck at full pressure first",
        "The first side clamped in jaws bored to its size, or indicated true. Turn by the control in steps, hands out of the "
        "jaws, doors shut while anything moves.",
    )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Clamp the finished first side at full pressure, wiped"),
            Step("Turn in steps, probe the second side at each angle", "turn"),
            Step("Sign"),
        )
