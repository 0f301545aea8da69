"""Tool diameter: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant, with_doubt
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
    needs=(
        *REPEATABILITY,
        *with_doubt("setter_width", offers.SETTER_WIDTH_X, "setter", ("both", "one", "four")),
        *with_doubt("setter_centre", offers.SETTER_CENTRE_X, "setter", ("one",)),
        *with_doubt("setter_width_y", offers.SETTER_WIDTH_Y, "setter", ("both-y", "one-y", "four")),
        *with_doubt("setter_centre_y", offers.SETTER_CENTRE_Y, "setter", ("one-y",)),
    ),
    caution=Caution(
        "It turns, backwards and slowly",
        "Doors shut, nobody inside, rapid turned down, a finger on feed hold. Turning forwards would cut the setter.",
    ),
)
