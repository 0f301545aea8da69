"""Beam level: everything together."""

from __future__ import annotations

from nonna.procedures.beam_level import LISTED
from nonna.procedures.beam_level.evaluate import evaluate
from nonna.procedures.beam_level.figure import figure
from nonna.procedures.beam_level.hands import outlook, slots, steps
from nonna.procedures.beam_level.model import BeamReadings
from nonna.procedures.sheet import Caution, Procedure

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "beam-ends"},
    steps=steps,
    figure=figure,
    outlook=outlook,
    model=BeamReadings,
    main=("z_per_100_mm",),
    main_title="Z over 100 mm",
    reads={"z_mm": "z"},
    offered={"limit_z_mm_per_100": 0.010, "limit_cross_mm_per_100": 1.0, "span_mm": 100.0},
    caution=Caution(
        "Never look into the beam",
        "Not even for a moment, not at its reflection on the pin. Doors shut while anything moves; spindle stopped.",
    ),
)
