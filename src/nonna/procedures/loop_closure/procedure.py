"""Loop closure: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.proof import closure_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.loop_closure import LISTED
from nonna.procedures.loop_closure.evaluate import evaluate
from nonna.procedures.loop_closure.model import ClosureReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

TIMES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three heights through each chain."""
    del facts
    return tuple(
        Slot({"via": via}, f"{via} {i + 1}/{TIMES}", f"Height by the {via}", via)
        for via in ("tool", "probe")
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Cut a small step with a measured tool, or stand a block"),
        Step("Its height by the tool, with the tool's length", "tool"),
        Step("The same face by the probe, with its length", "probe"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """About what the other chain saw."""
    del facts, slot, field
    return as_number(readings[-1]["height_mm"]) if readings else None


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Two ways to one surface."""
    taken = {via: [as_number(r["height_mm"]) for r in readings if r["via"] == via] for via in ("tool", "probe")}
    estimate = result.quantity("difference_mm").estimate if result else None
    return closure_figure(taken, (estimate.value, estimate.expanded) if estimate else None, units)


SENTENCES = {
    "higher-none": (_HIGHER := "The probe sees the surface {size:small} higher than the tool, ± {U:small}."),
    "higher-pass": _HIGHER + " Within {limit:small}.",
    "higher-fail": _HIGHER + " Over {limit:small}.",
    "higher-undecided": _HIGHER + " Whether that is within {limit:small} stays open.",
    "lower-none": (_LOWER := "The probe sees the surface {size:small} lower than the tool, ± {U:small}."),
    "lower-pass": _LOWER + " Within {limit:small}.",
    "lower-fail": _LOWER + " Over {limit:small}.",
    "lower-undecided": _LOWER + " Whether that is within {limit:small} stays open.",
    "apart": "That is more than the doubt: one of the two chains is off.",
    "agree": "That is within the doubt: the two chains agree as far as this can tell.",
    "new-length": "New probe length, if the setter is to be believed: the old one {d:signed}.",
    "pass": "Sign it, then prove the loop on an artefact.",
    "none": "Sign it.",
    "fail": "Prove both on an artefact not used before: it says which chain is off. Redo that one.",
    "undecided": "Measure the surface again, through both.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "heights-by-ways"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ClosureReadings,
    main=("difference_mm",),
    main_title="Probe less tool",
    offered={"limit_mm": 0.010, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Doors shut, spindle stopped and confirmed for the probe, rapid turned down, a finger on feed hold.",
    ),
)
