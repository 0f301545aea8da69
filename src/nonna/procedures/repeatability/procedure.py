"""Repeatability: everything together."""

from __future__ import annotations

from nonna.procedures.repeatability import LISTED
from nonna.procedures.repeatability.evaluate import evaluate
from nonna.procedures.repeatability.figure import figure
from nonna.procedures.repeatability.hands import expected, slots, steps
from nonna.procedures.repeatability.model import RepeatabilityReadings
from nonna.procedures.sheet import Caution, Procedure, Variant
from nonna.procedures.touching import Touching

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "repeated-touch"},
    touching={"": Touching("Repeatability", "master", value="value_mm")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=RepeatabilityReadings,
    main=("two_s_mm",),
    main_title="Scatter, 2 s",
    variants=(Variant("ten", "Ten touches"), Variant("25", "25 touches, as advised")),
    reads={"value_mm": "z"},
    offered={"limit_2s_mm": 0.003, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
