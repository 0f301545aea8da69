"""Centre line of the turret: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import Caution, Procedure
from nonna.stations.lathe.procedures.centre import LISTED
from nonna.stations.lathe.procedures.centre.evaluate import evaluate
from nonna.stations.lathe.procedures.centre.figure import figure
from nonna.stations.lathe.procedures.centre.hands import slots, steps
from nonna.stations.lathe.procedures.centre.model import CentreReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-round-turret"},
    steps=steps,
    figure=figure,
    model=CentreReadings,
    main=("centre_line_x_mm",),
    main_title="Centre line in X",
    reads={"value_mm": "dial"},
    foreseeable=False,
    offered={
        "x_shows": "diameter",
        "limit_height_mm": 0.05,
        "indicator": {"resolution_mm": 0.001},
    },
    caution=Caution(
        "The chuck is turned by hand, drive off",
        "Indicator in the chuck, a ground bar in the station. Drive off, doors open only while nothing moves; move X "
        "with "
        "the smallest step near the bar.",
    ),
)
