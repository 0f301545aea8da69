"""Tool diameter: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant, carried
from nonna.procedures.tool_diameter import LISTED
from nonna.procedures.tool_diameter.evaluate import evaluate
from nonna.procedures.tool_diameter.figure import figure
from nonna.procedures.tool_diameter.hands import settled, slots, steps
from nonna.procedures.tool_diameter.model import DiameterReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    settled=settled,
    model=DiameterReadings,
    main=("diameter_mm",),
    main_title="Diameter",
    offered={"limit_mm": 0.02},
    variants=(
        Variant("both", "From both sides in X"),
        Variant("one", "From one side in X"),
        Variant("both-y", "From both sides in Y"),
        Variant("one-y", "From one side in Y"),
        Variant("four", "From all four sides"),
    ),
    carries=(
        *REPEATABILITY,
        *carried("setter_width", "setter-calibration", "width_x_mm", "setter", ("both", "one", "four")),
        *carried("setter_centre", "setter-calibration", "centre_x_mm", "setter", ("one",)),
        *carried("setter_width_y", "setter-calibration", "width_y_mm", "setter", ("both-y", "one-y", "four")),
        *carried("setter_centre_y", "setter-calibration", "centre_y_mm", "setter", ("one-y",)),
    ),
    caution=Caution(
        "It turns, backwards and slowly",
        "Doors shut, nobody inside, rapid turned down, a finger on feed hold. Turning forwards would cut the setter.",
    ),
)
