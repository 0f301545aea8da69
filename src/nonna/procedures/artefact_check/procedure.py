"""Artefact check: everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures import offers
from nonna.procedures.artefact_check import LISTED
from nonna.procedures.artefact_check.evaluate import evaluate
from nonna.procedures.artefact_check.figure import figure
from nonna.procedures.artefact_check.hands import expected, slots, steps
from nonna.procedures.artefact_check.model import ArtefactReadings
from nonna.procedures.sheet import REPEATABILITY, Caution, Need, Procedure, Variant, with_doubt

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"daily": "artefact-on-setter", "": "artefact-probed"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ArtefactReadings,
    main=("error_mm",),
    main_title="Error",
    role="artefact",
    master_kinds=("ring", "block", "master-tool"),
    variants=(
        Variant("diameter", "Diameter", {"quantity": "diameter"}, ("ring",)),
        Variant("length", "Length", {"quantity": "length"}, ("block", "master-tool")),
        Variant("daily", "One touch of the master", {"quantity": "length", "limit_mm": 0.01}, ("master-tool",)),
    ),
    needs=(
        Need("calibration_u_mm", offers.BALL_RADIUS, "u", "ring", ("diameter",), factor=2.0),
        Need("calibration_dof", offers.BALL_RADIUS, "dof", "ring", ("diameter",)),
        *with_doubt("calibration", offers.PROBE_LENGTH, "probe", ("length",))[1:],
        *with_doubt("calibration", offers.TRIGGER_PLANE, "setter", ("daily",))[1:],
        *(replace(carry, variants=("daily",)) for carry in REPEATABILITY),
    ),
    offered={"limit_mm": 0.004, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Spindle locked for the probe, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
