"""Probe ring: everything together."""

from __future__ import annotations

from nonna.procedures.probe_ring import LISTED
from nonna.procedures.probe_ring.evaluate import evaluate
from nonna.procedures.probe_ring.figure import figure
from nonna.procedures.probe_ring.hands import slots, steps
from nonna.procedures.probe_ring.model import RingReadings
from nonna.procedures.sheet import Caution, Procedure, Variant

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "ring-turned"},
    steps=steps,
    figure=figure,
    model=RingReadings,
    main=("ball_radius_mm",),
    main_title="Effective ball radius",
    role="ring",
    foreseeable=False,
    reads={"x_mm": "x", "y_mm": "y"},
    master_kinds=("ring",),
    offered={"limit_lobing_mm": 0.003, "limit_offset_mm": 0.005, "resolution_mm": 0.0001},
    compares=True,
    differ_words="they differ, so measure each way with the radius of its own cycle",
    variants=(
        Variant("internal", "In the ring, 0° and 180°", {"side": "internal"}, beside="internal"),
        Variant("internal-two", "In the ring, touched twice: fast, then slow", {"side": "internal"}, beside="internal"),
        Variant("internal-0", "In the ring, 0° only", {"side": "internal"}, beside="internal"),
        Variant("external", "Round the pin, 0° and 180°", {"side": "external"}, beside="external"),
        Variant("external-0", "Round the pin, 0° only", {"side": "external"}, beside="external"),
    ),
    caution=Caution(
        "A probe breaks quickly",
        "Spindle oriented, never turning, probe awake, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
