"""Home check: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Need, Procedure
from nonna.stations.router.procedures.home_check import LISTED
from nonna.stations.router.procedures.home_check.evaluate import evaluate
from nonna.stations.router.procedures.home_check.figure import figure
from nonna.stations.router.procedures.home_check.hands import axis_of, expected, slots, steps
from nonna.stations.router.procedures.home_check.model import AXES, HomeReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "pin-touched"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    own_axis_of=axis_of,
    model=HomeReadings,
    main=("moved_z_mm", "pin_z_mm"),
    main_title="Home moved in Z",
    offered={"limit_mm": 0.05, "resolution_mm": 0.001},
    needs=(
        *REPEATABILITY,
        *(
            Need(f"pin_{axis}{end}", f"home.pin_{axis}", part, "home", needed=False)  # type: ignore[arg-type]
            for axis in AXES
            for end, part in (("_mm", "value"), ("_u_mm", "u"), ("_dof", "dof"))
        ),
    ),
    caution=Caution(
        "Hands clear of the gantry while it moves",
        "Spindle stopped and confirmed, rapid turned down, a finger on feed hold. The machine's manual comes first.",
    ),
)
