"""Tool on the presetter: everything together."""

from __future__ import annotations

from nonna.procedures.presetter_tool import LISTED
from nonna.procedures.presetter_tool.evaluate import evaluate
from nonna.procedures.presetter_tool.figure import figure
from nonna.procedures.presetter_tool.hands import expected, slots, steps
from nonna.procedures.presetter_tool.model import PresetterToolReadings
from nonna.procedures.sheet import REPEATABILITY, Caution, Need, NeedPart, Procedure


def axis_calibration(axis: str, *, away: bool = False) -> tuple[Need, ...]:
    """Carry an axis' calibration; away: from the records of the shop's presetter, for another station's sheet."""
    parts: tuple[tuple[str, str, NeedPart], ...] = (
        ("offset_mm", "offset_mm", "value"), ("offset_u_mm", "offset_mm", "u"), ("offset_dof", "offset_mm", "dof"),
        ("pivot_mm", "pivot_mm", "value"),
        ("scale_ppm", "scale_ppm", "value"), ("scale_u_ppm", "scale_ppm", "u"), ("scale_dof", "scale_ppm", "dof"),
    )  # fmt: skip
    return tuple(
        Need(
            f"{axis}_{field}",
            f"presetter.{axis}_{result}",
            part,
            "calibration",
            needed=axis == "z",
            away=away,
        )
        for field, result, part in parts
    )


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-read"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=PresetterToolReadings,
    main=("length_mm",),
    main_title="Length",
    reads={},
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
    needs=(*REPEATABILITY, *axis_calibration("z"), *axis_calibration("x")),
    caution=Caution("Sharp edges", "Turn the tool by its holder. Never look into the lamp."),
)
