"""Part on the lathe: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant, with_doubt
from nonna.stations.lathe.procedures.measure import LISTED
from nonna.stations.lathe.procedures.measure.evaluate import evaluate
from nonna.stations.lathe.procedures.measure.figure import figure
from nonna.stations.lathe.procedures.measure.hands import settled, slots, steps
from nonna.stations.lathe.procedures.measure.model import PartReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "part-across"},
    steps=steps,
    figure=figure,
    settled=settled,
    model=PartReadings,
    main=("size_mm",),
    main_title="Size",
    remembers=("nominal_mm", "lower_mm", "upper_mm", "step_limit_mm", "stop_mm", "gain"),
    offered={
        "feature": "diameter",
        "side": "external",
        "x_shows": "diameter",
        "resolution_mm": 0.001,
    },
    variants=(
        Variant("external", "Outside diameter", {"feature": "diameter", "side": "external"}),
        Variant("internal", "Inside diameter", {"feature": "diameter", "side": "internal"}),
        Variant("distance", "Distance of two faces", {"feature": "distance"}),
        Variant("groove", "Groove", {"feature": "groove"}),
        Variant("rib", "Rib", {"feature": "rib"}),
    ),
    needs=(
        *REPEATABILITY,
        *with_doubt(
            "ball_diameter",
            offers.BALL_DIAMETER,
            "ring",
            ("external", "internal", "groove", "rib"),
            needed=False,
        ),
    ),
    reads={},
    caution=Caution(
        "Spindle stopped before the probe comes near",
        "Probe awake, doors shut, rapid turned down. Will the stem clear the shoulder? Look first.",
    ),
)
