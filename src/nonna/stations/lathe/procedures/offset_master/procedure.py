"""Reference tool on a master in the chuck: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import Caution, Procedure
from nonna.stations.lathe.procedures.offset_master import LISTED
from nonna.stations.lathe.procedures.offset_master.evaluate import evaluate
from nonna.stations.lathe.procedures.offset_master.figure import figure
from nonna.stations.lathe.procedures.offset_master.hands import slots, steps
from nonna.stations.lathe.procedures.offset_master.model import ChuckMasterReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-on-master"},
    steps=steps,
    figure=figure,
    model=ChuckMasterReadings,
    main=("offset_x_mm", "offset_z_mm"),
    main_title="X offset",
    any_main=True,
    role="master",
    master_kinds=("master-tool", "ring"),
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
    caution=Caution(
        "Spindle stopped, drive off, before hands turn the chuck",
        "The master clamped lightly and wiped. Come near with the smallest step, foil between, doors shut whenever "
        "an axis "
        "moves by more than that.",
    ),
)
