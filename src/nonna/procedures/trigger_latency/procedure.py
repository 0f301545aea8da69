"""Trigger latency: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.sheet import Caution, Need, NeedPart, Procedure
from nonna.procedures.touching import Touching
from nonna.procedures.trigger_latency import LISTED
from nonna.procedures.trigger_latency.evaluate import evaluate
from nonna.procedures.trigger_latency.figure import figure
from nonna.procedures.trigger_latency.hands import slots, steps
from nonna.procedures.trigger_latency.model import LatencyReadings

_BEFORE: tuple[tuple[str, NeedPart], ...] = (("before_s", "value"), ("before_u_s", "u"), ("before_dof", "dof"))


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "touch-at-feeds"},
    touching={"": Touching("Trigger latency", "master", feed="feed_mm_min")},
    steps=steps,
    figure=figure,
    model=LatencyReadings,
    main=("latency_s",),
    main_title="Trigger comes late by",
    needs=tuple(Need(name, offers.TRIGGER_LATENESS, part, "repeatability", needed=False) for name, part in _BEFORE),
    offered={"resolution_mm": 0.0001},
    caution=Caution(
        "The fast touches are really fast",
        "Spindle stopped and confirmed, doors shut, feed override at 100 %, a finger on feed hold. Begin with the "
        "slow feed.",
    ),
)
