"""Tooth run-out: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure
from nonna.procedures.tooth_runout import LISTED
from nonna.procedures.tooth_runout.evaluate import evaluate
from nonna.procedures.tooth_runout.figure import figure
from nonna.procedures.tooth_runout.hands import slots, steps
from nonna.procedures.tooth_runout.model import ToothReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=ToothReadings,
    main=("runout_mm",),
    main_title="Tooth run-out",
    needs=REPEATABILITY,
    offered={"limit_mm": 0.02, "resolution_mm": 0.0001},
    caution=Caution(
        "Inserts cut",
        "Spindle oriented and locked, never turning. Turn the cutter with a cloth or a glove, doors shut while it "
        "moves.",
    ),
)
