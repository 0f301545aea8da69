"""Repeatability: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.plots import run_chart
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant, as_before
from nonna.procedures.repeatability import LISTED
from nonna.procedures.repeatability.evaluate import evaluate
from nonna.procedures.repeatability.model import ADVISED, RepeatabilityReadings
from nonna.procedures.sheet import Procedure
from nonna.procedures.touching import Touching
from nonna.shop.links.subjects import SubjectKind
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units

SHEET_TOUCHES = {"ten": 10, "25": ADVISED}


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Ten touches are enough to carry on with; 25 are better."""
    count = SHEET_TOUCHES.get(facts.variant, 10)
    return tuple(Slot({}, f"{i + 1}/{count}", "Touch again", "touch") for i in range(count))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if facts.subject.kind is SubjectKind.ARM:
        first = (Step("Wipe the tip and the arm's stylus"), Step("Swing the arm out; spindle stopped"))
    else:
        first = (Step("Wipe taper, master and pad"), Step("Seat the master; spindle stopped"))
    return (
        *first,
        Step(f"Touch the same spot {SHEET_TOUCHES.get(facts.variant, 10)} times", "touch"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """About where the last touch was."""
    known = as_before(RepeatabilityReadings, slot, readings, field)
    return known if known is not None else facts.about.get("top")


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Each touch about the mean."""
    outliers = [int(i) for i in Given(result.extras).numbers("outliers")] if result else ()
    return run_chart("Each touch about the mean", [as_number(r["value_mm"]) for r in readings], outliers, units)


SENTENCES = {
    "found-pass": "Touches repeat within {two_s:small} (2 s), at most {high:small}: good.",
    "found-fail": "The scatter, 2 s, is {two_s:small}, over {limit:small}.",
    "found-undecided": "The scatter, 2 s, is {two_s:small} but could be {high:small}; the limit is {limit:small}.",
    "found-none": "Touches repeat within {two_s:small} (2 s), at most {high:small}.",
    "pass": "Sign it and it is used from now on.",
    "none": "Sign it and it is used from now on.",
    "fail": "Clean what touches and what is touched, then do it again.",
    "undecided": "More touches will tell.",
    "outliers": "Touch {touches} does not belong with the others. Was there a chip? Strike it only if you know why.",
    "go-on": "Go on to {touches} touches.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "repeated-touch"},
    touching={"": Touching("Repeatability", "master", value="value_mm")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=RepeatabilityReadings,
    main=("two_s_mm",),
    main_title="Scatter, 2 s",
    variants=(Variant("ten", "Ten touches"), Variant("25", "25 touches, as advised")),
    reads={"value_mm": "z"},
    offered={"limit_2s_mm": 0.003, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
