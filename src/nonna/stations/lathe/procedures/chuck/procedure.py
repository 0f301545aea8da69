"""Chuck run-out: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure
from nonna.stations.lathe.procedures.chuck import LISTED
from nonna.stations.lathe.procedures.chuck.evaluate import evaluate
from nonna.stations.lathe.procedures.chuck.figure import figure
from nonna.stations.lathe.procedures.chuck.hands import slots, steps
from nonna.stations.lathe.procedures.chuck.model import ChuckReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "part-turned"},
    steps=steps,
    figure=figure,
    model=ChuckReadings,
    main=("runout_mm",),
    main_title="Run-out",
    foreseeable=False,
    needs=REPEATABILITY,
    offered={"limit_mm": 0.02, "x_shows": "diameter", "resolution_mm": 0.001},
    reads={},
    caution=Caution(
        "Spindle stopped and the chuck at full pressure first",
        "Turn the chuck by the control in steps, never by hand with the drive on. Hands out of the jaws, doors shut "
        "while anything moves.",
    ),
)
