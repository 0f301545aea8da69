"""Breakage threshold: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.breakage_threshold import LISTED
from nonna.procedures.breakage_threshold.evaluate import evaluate
from nonna.procedures.breakage_threshold.figure import figure
from nonna.procedures.breakage_threshold.hands import slots, steps
from nonna.procedures.breakage_threshold.model import ThresholdReadings
from nonna.procedures.sheet import Caution, Need, Procedure

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=ThresholdReadings,
    main=("tolerance_mm",),
    main_title="Tolerance",
    offered={
        "drift_mm": 0.01,
        "smallest_break_mm": 0.2,
        "false_alarm": 0.001,
        "missed": 0.001,
    },
    needs=(Need("sigma_mm", offers.TOUCH_SCATTER, "value", "repeatability"),),
    caution=Caution("A sum, nothing moves", "Try the check by hand once with a short tool before it runs unattended."),
)
