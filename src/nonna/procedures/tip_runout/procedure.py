"""Tip run-out: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import Caution, Procedure, Variant
from nonna.procedures.tip_runout import LISTED
from nonna.procedures.tip_runout.evaluate import evaluate
from nonna.procedures.tip_runout.figure import figure
from nonna.procedures.tip_runout.hands import guess, next_moves, outlook, slots, steps
from nonna.procedures.tip_runout.model import RunoutReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-round"},
    steps=steps,
    figure=figure,
    own_guess=guess,
    own_next_moves=next_moves,
    outlook=outlook,
    model=RunoutReadings,
    main=("runout_mm",),
    main_title="Run-out",
    learns_turns=True,
    foreseeable=False,
    reads={"value_mm": "dial"},
    offered={
        "limit_mm": 0.005,
        "screws_deg": [0.0, 90.0, 180.0, 270.0],
        "indicator": {"resolution_mm": 0.001},
    },
    variants=(
        Variant("ball", "Stylus ball"),
        Variant("master", "Master tool", {"screws_deg": []}),
        Variant("shank", "Any held shank", {"screws_deg": []}),
    ),
    caution=Caution(
        "Turn the spindle by hand",
        "Drive off, spindle in neutral, before a hand goes near. The dial's tip gives way, the stylus does not: "
        "come up to it slowly.",
    ),
)
