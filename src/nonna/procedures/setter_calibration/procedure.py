"""Setter calibration: everything together."""

from __future__ import annotations

from nonna.procedures.setter_calibration import LISTED
from nonna.procedures.setter_calibration.evaluate import evaluate
from nonna.procedures.setter_calibration.figure import figure
from nonna.procedures.setter_calibration.hands import expected, slots, steps
from nonna.procedures.setter_calibration.model import SetterReadings
from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant
from nonna.procedures.touching import Touching

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "setter-faces"},
    touching={"": Touching("Setter calibration", "master", face="face")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=SetterReadings,
    main=("trigger_plane_mm",),
    main_title="Trigger plane",
    offered={"limit_range_mm": 0.004, "school": "absolute"},
    needs=REPEATABILITY,
    master_kinds=("master-tool", "spindle-face", "block"),
    variants=(
        Variant("master", "Master tool"),
        Variant("spindle-face", "Spindle face"),
        Variant("block", "Block under the spindle face"),
    ),
    variant_of_master=True,
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "The machine's manual and your shop's rules come first.",
    ),
)
