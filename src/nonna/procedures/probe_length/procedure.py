"""Probe length: everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures import offers
from nonna.procedures.probe_length import LISTED
from nonna.procedures.probe_length.evaluate import evaluate
from nonna.procedures.probe_length.figure import figure
from nonna.procedures.probe_length.hands import slots, steps
from nonna.procedures.probe_length.model import ProbeLengthReadings
from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant, with_doubt
from nonna.procedures.touching import Touching

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"setter": "probe-on-setter", "": "probe-on-surface"},
    touching={"setter": Touching("Probe length", "probe")},
    steps=steps,
    figure=figure,
    model=ProbeLengthReadings,
    main=("probe_length_mm",),
    main_title="Probe length",
    compares=True,
    variants=(
        Variant("setter", "On the setter"),
        Variant("block", "On a block of known height"),
        Variant("cut", "By test cut"),
    ),
    offered={"resolution_mm": 0.0001},
    needs=(
        *(replace(carry, variants=("setter",)) for carry in REPEATABILITY),
        *with_doubt("surface", offers.TRIGGER_PLANE, "setter", ("setter",)),
    ),
    caution=Caution(
        "A probe breaks quickly",
        "Spindle locked against turning, probe awake, rapid turned down, a finger on feed hold, doors shut.",
    ),
)
