"""Tip on the arm: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import REPEATABILITY, Caution, Need, Procedure, Variant, with_doubt
from nonna.stations.lathe.procedures.tip import LISTED
from nonna.stations.lathe.procedures.tip.evaluate import evaluate
from nonna.stations.lathe.procedures.tip.figure import figure
from nonna.stations.lathe.procedures.tip.hands import slots, steps
from nonna.stations.lathe.procedures.tip.model import AXES, TipReadings
from nonna.stations.lathe.ways import WAYS

_PLANES = {"+x": "arm.plus_x", "-x": "arm.minus_x", "+z": "arm.plus_z", "-z": "arm.minus_z"}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tip-on-arm"},
    steps=steps,
    figure=figure,
    model=TipReadings,
    main=("offset_z_mm", "offset_x_mm"),
    main_title="Z offset",
    any_main=True,
    offered={"x_shows": "diameter", "limit_mm": 0.1, "resolution_mm": 0.001},
    variants=tuple(Variant(key, way.words) for key, way in WAYS.items()),
    needs=(
        *REPEATABILITY,
        *(
            each
            for name, at, faces in (
                ("plane_x", "x_face", ("+x", "-x")),
                ("plane_z", "z_face", ("+z", "-z")),
                ("plane_minus_z", "other_flank", ("-z",)),
            )
            for face in faces
            for each in with_doubt(
                name,
                _PLANES[face],
                "arm",
                tuple(key for key, way in WAYS.items() if getattr(way, at) == face),
            )
        ),
        *with_doubt(
            "centre_line_x",
            "turret.centre-line",
            "centre",
            tuple(key for key, way in WAYS.items() if way.on_centre_line),
            needed=False,
        ),
        *(
            Need(
                f"expected_{axis}_mm",
                f"tip.offset_{axis}",
                "value",
                "tips",
                same_subject=True,
                needed=False,
            )
            for axis in AXES
        ),
    ),
    caution=Caution(
        "A few millimetres off, diagonal, before the touch",
        "Arm out and seen to be out, spindle stopped, doors shut, rapid turned down, a finger on feed hold. "
        "Check that the axis you are about to move is the one asked for.",
    ),
)
