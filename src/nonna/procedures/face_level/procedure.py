"""Face level: everything together."""

from __future__ import annotations

from nonna.procedures.face_level import LISTED
from nonna.procedures.face_level.evaluate import evaluate
from nonna.procedures.face_level.figure import figure
from nonna.procedures.face_level.hands import guess, outlook, slots, steps
from nonna.procedures.face_level.model import MAIN, FaceLevelReadings
from nonna.procedures.sheet import Caution, Procedure, Variant

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-over-face"},
    steps=steps,
    figure=figure,
    own_guess=guess,
    outlook=outlook,
    model=FaceLevelReadings,
    main=MAIN,
    beside=("slope_x", "slope_y"),
    main_title="Rise in X",
    foreseeable=False,
    reads={"value_mm": "dial"},
    offered={"limit_mm": 0.005, "indicator": {"resolution_mm": 0.001}},
    variants=(Variant("cross", "Cross, five places"), Variant("grid", "Grid, nine places")),
    caution=Caution(
        "Spindle stopped and locked",
        "The indicator rides in the spindle: drive off. Move by handwheel only, doors as your shop's rules say.",
    ),
)
