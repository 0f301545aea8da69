"""Artefact check: everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures.artefact_check import LISTED
from nonna.procedures.artefact_check.evaluate import evaluate
from nonna.procedures.artefact_check.figure import figure
from nonna.procedures.artefact_check.hands import expected, slots, steps
from nonna.procedures.artefact_check.model import ArtefactReadings
from nonna.procedures.sheet import REPEATABILITY, Carry, Caution, Procedure, Variant, carried

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
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
    carries=(
        Carry("calibration_u_mm", "probe-ring", "ball_radius_mm", "u", "ring", ("diameter",), factor=2.0),
        Carry("calibration_dof", "probe-ring", "ball_radius_mm", "dof", "ring", ("diameter",)),
        *carried("calibration", "probe-length", "probe_length_mm", "probe", ("length",))[1:],
        *carried("calibration", "setter-calibration", "trigger_plane_mm", "setter", ("daily",))[1:],
        *(replace(carry, variants=("daily",)) for carry in REPEATABILITY),
    ),
    offered={"limit_mm": 0.004, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Spindle locked for the probe, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
