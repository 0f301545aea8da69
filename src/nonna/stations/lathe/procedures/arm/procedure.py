"""Arm calibration: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, with_doubt
from nonna.stations.lathe.procedures.arm import LISTED
from nonna.stations.lathe.procedures.arm.evaluate import evaluate
from nonna.stations.lathe.procedures.arm.figure import figure
from nonna.stations.lathe.procedures.arm.hands import slots, steps
from nonna.stations.lathe.procedures.arm.model import PLANES, ArmReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "arm-faces"},
    steps=steps,
    figure=figure,
    model=ArmReadings,
    main=tuple(f"{name}_mm" for name in PLANES.values()),
    main_title="Plane +X",
    any_main=True,
    offered={"x_shows": "diameter", "limit_range_mm": 0.005, "resolution_mm": 0.001},
    needs=(
        *REPEATABILITY,
        *with_doubt("reference_x", "reference.x", "reference"),
        *with_doubt("reference_z", "reference.z", "reference"),
    ),
    caution=Caution(
        "Room for the arm first",
        "Turret away, no tool in the arm's way, spindle stopped, doors shut. Arm out, and see that it is out, before "
        "the "
        "turret comes back. Rapid turned down, a finger on feed hold.",
    ),
)
