"""Presetter calibration: everything together."""

from __future__ import annotations

from nonna.procedures.presetter_calibration import LISTED
from nonna.procedures.presetter_calibration.evaluate import evaluate
from nonna.procedures.presetter_calibration.figure import figure
from nonna.procedures.presetter_calibration.hands import cast, expected, slots, steps
from nonna.procedures.presetter_calibration.model import PresetterReadings
from nonna.procedures.sheet import Caution, Procedure

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "master-read"},
    steps=steps,
    figure=figure,
    own_cast=cast,
    own_expected=expected,
    model=PresetterReadings,
    main=("z_offset_mm",),
    main_title="Zero of the length",
    role="low",
    master_kinds=("master-tool",),
    beside=("z_pivot_mm", "x_pivot_mm"),
    reads={},
    offered={"x_shows": "diameter", "limit_proof_mm": 0.005, "resolution_mm": 0.001},
    caution=Caution(
        "Sharp edges, heavy tools",
        "Both hands for a heavy master; nothing on the sliding way while it moves. Never look into the lamp.",
    ),
)
