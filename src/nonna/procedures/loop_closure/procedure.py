"""Loop closure: everything together."""

from __future__ import annotations

from nonna.procedures.loop_closure import LISTED
from nonna.procedures.loop_closure.evaluate import evaluate
from nonna.procedures.loop_closure.figure import figure
from nonna.procedures.loop_closure.hands import expected, slots, steps
from nonna.procedures.loop_closure.model import ClosureReadings
from nonna.procedures.sheet import Caution, Procedure

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "heights-by-ways"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ClosureReadings,
    main=("difference_mm",),
    main_title="Probe less tool",
    offered={"limit_mm": 0.010, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Doors shut, spindle stopped and confirmed for the probe, rapid turned down, a finger on feed hold.",
    ),
)
