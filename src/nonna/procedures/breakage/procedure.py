"""Breakage: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.tool import change_band
from nonna.procedures import offers
from nonna.procedures.breakage import LISTED
from nonna.procedures.breakage.evaluate import evaluate
from nonna.procedures.breakage.model import BreakageReadings
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import PLANE, REPEATABILITY, Procedure, with_doubt
from nonna.wording.lengths import Units


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """One touch: a check has to be quick."""
    del facts
    return (Slot({}, "Touch", "Touch the tip", "touch"),)


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (Step("Blow the chips off, doors shut"), Step("Touch once", "touch"), Step("Sign"))


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """Where the whole tool would trigger."""
    del slot, readings, field
    plane, reference = facts.setup.number("trigger_plane_mm"), facts.setup.number("reference_mm")
    return plane + reference if plane is not None and reference is not None else None


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The change between what counts as broken and pulled out."""
    setup = facts.setup
    found = None
    if result is not None and any(q.name == "change_mm" for q in result.quantities):
        estimate = result.quantity("change_mm").estimate
        found = (estimate.value, estimate.expanded) if estimate else None
    return change_band(
        setup.number("tolerance_short_mm", 0.0), setup.number("tolerance_long_mm", 0.0), setup.number("wear_mm", 0.0),
        found,
        str(result.extras.get("state", "")) if result else "", units,
    )  # fmt: skip


SENTENCES = {
    "ok": "The tool is as it was, {change:signed}, ± {U:small}.",
    "worn": "The tool is worn: {change:signed}, ± {U:small}.",
    "broken": "The tool is broken: {size:small} shorter.",
    "pulled-out": "The tool has pulled out: {size:small} longer.",
    "missing": "No trigger: at least {gone:length} of the tool is gone.",
    "then-ok": "Go on.",
    "then-worn": "Go on; plan a change soon.",
    "then-broken": "Stop. Change the tool, look for its splinters and at the last part it cut.",
    "then-pulled-out": "Stop. The holder has let go: clean and clamp it again, look at the last part it cut.",
    "then-missing": "Stop. Change the tool, look for the rest of it and at the last part it cut.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=BreakageReadings,
    main=("change_mm",),
    main_title="Change",
    offered={"tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2, "wear_mm": 0.05},
    needs=(
        *REPEATABILITY,
        *PLANE,
        *with_doubt("reference", offers.TOOL_LENGTH, "tools", same_subject=True),
    ),
    caution=Caution(
        "A broken tool is sharp",
        "Doors shut while it moves. Lock out before you reach in; pick splinters with a brush, not with fingers.",
    ),
)
