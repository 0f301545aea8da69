"""Tool from the presetter: everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures import offers
from nonna.procedures.presetter_tool.procedure import axis_calibration
from nonna.procedures.sheet import PLANE, REPEATABILITY, Caution, Need, NeedPart, Procedure, with_doubt
from nonna.procedures.tool_from_presetter import LISTED
from nonna.procedures.tool_from_presetter.evaluate import evaluate
from nonna.procedures.tool_from_presetter.figure import figure
from nonna.procedures.tool_from_presetter.hands import expected, slots, steps
from nonna.procedures.tool_from_presetter.model import FromPresetterReadings


def _away(name: str, part: NeedPart, needed: bool = True) -> Need:
    return Need(name, offers.TRANSFER, part, "tools", needed=needed, away=True, of_station=True)


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=FromPresetterReadings,
    main=("length_mm",),
    main_title="Length",
    beside=("from_own_mm",),
    reads={},
    needs=(
        *axis_calibration("z", away=True),
        *axis_calibration("x", away=True),
        _away("transfer_mm", "value"),
        _away("transfer_u_mm", "one-more"),
        _away("transfer_dof", "dof"),
        _away("transfer_pivot_mm", "pivot", False),
        _away("transfer_slope_ppm", "slope", False),
        _away("transfer_means_of", "means-of", False),
        *PLANE,
        *(replace(carry, away=True, link="tools") for carry in REPEATABILITY),
        *with_doubt("own_length", offers.TOOL_LENGTH, "tools", same_subject=True, needed=False),
    ),
    caution=Caution(
        "Sharp edges", "Carry tools by the holder. Wipe taper and sleeve: a chip is a tenth of a millimetre."
    ),
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
)
