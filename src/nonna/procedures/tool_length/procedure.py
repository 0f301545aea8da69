"""Tool length: everything together."""

from __future__ import annotations

from nonna.procedures.sheet import PLANE, REPEATABILITY, Caution, Procedure
from nonna.procedures.tool_length import LISTED
from nonna.procedures.tool_length.evaluate import evaluate
from nonna.procedures.tool_length.figure import figure
from nonna.procedures.tool_length.hands import expected, slots, steps
from nonna.procedures.tool_length.model import ToolLengthReadings
from nonna.procedures.touching import Touching

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-on-setter"},
    touching={"": Touching("Tool length", "tool")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ToolLengthReadings,
    main=("length_mm",),
    main_title="Length",
    offered={"limit_mm": 0.05},
    needs=(
        *REPEATABILITY,
        *PLANE,
    ),
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "Edges cut: wipe the tip with a brush, not a finger.",
    ),
)
