"""Work offset: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.sheet import Procedure, with_doubt
from nonna.procedures.work_offset import LISTED
from nonna.procedures.work_offset.evaluate import evaluate
from nonna.procedures.work_offset.model import WorkOffsetReadings
from nonna.wording.lengths import Units, length

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the part", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    what = {"tool": "tool", "block": "tool, on the block or sensor"}.get(facts.variant, "probe")
    return (
        Step("Wipe the part's face and what touches it"),
        Step(f"Touch three times with the {what}", "touch"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """What touches over the part."""
    long = facts.setup.number("tool_length_mm") or 0.0
    offset = "part" if result is None else f"W {length(result.quantity('offset_mm').value, units, unit=False)}"
    kind = "probe" if facts.variant in ("", "probe") else "end-mill"
    return over_setter(
        "What touches, over the part", kind, 6.0 if kind == "probe" else facts.tool_diameter,
        long if long > 0 else 100.0,
        pad=60.0, part=True, gap=0.0 if readings else 12.0, plane=offset,
        length_words=length(long, units) if long > 0 else "length not known yet", known=long > 0,
    )  # fmt: skip


SENTENCES = {
    "found": "The surface stands at Z {w:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}


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
