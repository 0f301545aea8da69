"""Tooth run-out: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.teeth import teeth_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.procedures.tooth_runout import LISTED
from nonna.procedures.tooth_runout.evaluate import evaluate
from nonna.procedures.tooth_runout.model import TIMES, USUAL_TEETH, ToothReadings
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two touches a tooth."""
    teeth = facts.tool_flutes or USUAL_TEETH
    return tuple(
        Slot({"tooth": tooth}, f"Tooth {tooth} {i + 1}/{TIMES}", f"Touch tooth {tooth}", "teeth")
        for tooth in range(1, teeth + 1)
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the inserts and the pad; mark tooth 1"),
        Step("Orient so that a tooth stands over the pad, touch, go on to the next", "teeth"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The teeth round the cutter, how far each stands back."""
    back = {} if result is None else {int(t): as_number(d) for t, d in Given(result.extras).part("back_mm").items()}
    return teeth_figure(facts.tool_flutes or USUAL_TEETH, {int(as_number(r["tooth"])) for r in readings}, back, units)


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=ToothReadings,
    main=("runout_mm",),
    main_title="Tooth run-out",
    needs=REPEATABILITY,
    offered={"limit_mm": 0.02, "resolution_mm": 0.0001},
    caution=Caution(
        "Inserts cut",
        "Spindle oriented and locked, never turning. Turn the cutter with a cloth or a glove, doors shut while it "
        "moves.",
    ),
)
