"""Probe in the ring, lathe: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant
from nonna.stations.lathe.procedures.ring import LISTED
from nonna.stations.lathe.procedures.ring.evaluate import evaluate
from nonna.stations.lathe.procedures.ring.figure import figure
from nonna.stations.lathe.procedures.ring.hands import slots, steps
from nonna.stations.lathe.procedures.ring.model import LatheRingReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "ring-across"},
    steps=steps,
    figure=figure,
    model=LatheRingReadings,
    main=("ball_diameter_mm",),
    main_title="Effective ball",
    role="ring",
    master_kinds=("ring", "master-tool"),
    offered={"side": "internal", "x_shows": "diameter", "resolution_mm": 0.001},
    needs=REPEATABILITY,
    variants=(
        Variant("internal", "In the ring", {"side": "internal"}, ("ring",)),
        Variant("external", "Round a pin", {"side": "external"}),
        Variant("part", "Round the part itself, its micrometer for a master", {"side": "external"}, ("part",)),
    ),
    reads={},
    caution=Caution(
        "The stem must not touch the shoulder",
        "Probe awake, spindle stopped, doors shut, rapid turned down, a finger on feed hold. Jog with the smallest "
        "step near the ring.",
    ),
)
