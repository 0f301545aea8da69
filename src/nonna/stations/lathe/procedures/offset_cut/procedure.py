"""Reference tool by test cut: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import Caution, Procedure
from nonna.stations.lathe.procedures.offset_cut import LISTED
from nonna.stations.lathe.procedures.offset_cut.evaluate import evaluate
from nonna.stations.lathe.procedures.offset_cut.figure import figure
from nonna.stations.lathe.procedures.offset_cut.hands import slots, steps
from nonna.stations.lathe.procedures.offset_cut.model import CutReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "step-turned"},
    steps=steps,
    figure=figure,
    model=CutReadings,
    main=("offset_x_mm", "offset_z_mm"),
    main_title="X offset",
    any_main=True,
    by_dial=False,
    reads={},
    offered={"x_shows": "diameter"},
    caution=Caution(
        "Spindle stopped before the micrometer comes near",
        "Doors shut and chuck at full pressure for the cut. Back the turret off, stop the spindle and see it stand "
        "still, "
        "only then open the door and measure.",
    ),
)
