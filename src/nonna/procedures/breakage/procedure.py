"""Breakage: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.breakage import LISTED
from nonna.procedures.breakage.evaluate import evaluate
from nonna.procedures.breakage.figure import figure
from nonna.procedures.breakage.hands import expected, slots, steps
from nonna.procedures.breakage.model import BreakageReadings
from nonna.procedures.sheet import PLANE, REPEATABILITY, Caution, Procedure, with_doubt

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=BreakageReadings,
    main=("change_mm",),
    main_title="Change",
    offered={"tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2, "wear_mm": 0.05},
    needs=(
        *REPEATABILITY,
        *PLANE,
        *with_doubt("reference", offers.TOOL_LENGTH, "tools", same_subject=True),
    ),
    caution=Caution(
        "A broken tool is sharp",
        "Doors shut while it moves. Lock out before you reach in; pick splinters with a brush, not with fingers.",
    ),
)
