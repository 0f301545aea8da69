"""Rack pockets: everything together."""

from __future__ import annotations

from nonna.procedures.rack_pockets import LISTED
from nonna.procedures.rack_pockets.evaluate import evaluate
from nonna.procedures.rack_pockets.figure import figure
from nonna.procedures.rack_pockets.hands import expected, settled, slots, steps
from nonna.procedures.rack_pockets.model import RackReadings
from nonna.procedures.sheet import REPEATABILITY, Caution, Procedure, Variant

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "pockets-touched"},
    steps=steps,
    figure=figure,
    settled=settled,
    own_expected=expected,
    model=RackReadings,
    main=("off_line_mm",),
    main_title="Worst off the line",
    needs=REPEATABILITY,
    remembers=("holder_diameter_mm", "rod_diameter_mm"),
    looks_back="pockets",
    variants=(
        Variant("row", "The whole row"),
        Variant("one", "One renewed place, against the row the book knows"),
    ),
    first="Touch the rod to the holder: do both leads ring?",
    offered={
        "limit_off_line_mm": 0.2,
        "limit_height_mm": 0.2,
        "limit_diameter_mm": 0.1,
        "resolution_mm": 0.001,
    },
    caution=Caution(
        "Hands clear of the rack while the gantry moves",
        "Spindle stopped and confirmed; step it, do not jog it, over the pockets. Check that both leads ring before "
        "each touch.",
    ),
)
