"""Work offset: everything together."""

from __future__ import annotations

from nonna.procedures import offers
from nonna.procedures.sheet import Caution, Procedure, Variant, with_doubt
from nonna.procedures.work_offset import LISTED
from nonna.procedures.work_offset.evaluate import evaluate
from nonna.procedures.work_offset.figure import figure
from nonna.procedures.work_offset.hands import slots, steps
from nonna.procedures.work_offset.model import WorkOffsetReadings

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=WorkOffsetReadings,
    main=("offset_mm",),
    main_title="Work offset Z",
    offered={"resolution_mm": 0.0001},
    variants=(
        Variant("probe", "With the probe", {"height_mm": 0.0}),
        Variant("tool", "With a tool of known length"),
        Variant("block", "With a tool and a block or sensor"),
    ),
    needs=with_doubt("tool_length", offers.PROBE_LENGTH, "probe", ("probe",)),
    caution=Caution(
        "Hands clear while it moves",
        "A part's edge pinches: move the last millimetre by handwheel. Spindle stopped and confirmed for a probe.",
    ),
)
