"""Gauge study: everything together."""

from __future__ import annotations

from nonna.procedures.gauge_study import LISTED
from nonna.procedures.gauge_study.evaluate import evaluate
from nonna.procedures.gauge_study.figure import figure
from nonna.procedures.gauge_study.hands import slots, steps
from nonna.procedures.gauge_study.model import StudyReadings
from nonna.procedures.sheet import Caution, Procedure, Variant

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=StudyReadings,
    main=("both_mm", "bias_mm"),
    main_title="Scatter of the gauge",
    foreseeable=False,
    reads={"value_mm": "z"},
    offered={"kind": "crossed"},
    variants=(
        Variant("crossed", "Several people, several parts", {"kind": "crossed"}),
        Variant("single", "One gauge, one part", {"kind": "single"}),
    ),
    caution=Caution("Clean and at one temperature", "Wipe parts and gauge, let them take the room's temperature."),
)
