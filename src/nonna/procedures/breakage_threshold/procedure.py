"""Breakage threshold: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.tool import two_distributions
from nonna.procedures import offers
from nonna.procedures.breakage_threshold import LISTED
from nonna.procedures.breakage_threshold.evaluate import evaluate
from nonna.procedures.breakage_threshold.model import ThresholdReadings
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Need, Procedure
from nonna.wording.lengths import Units


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Nothing is measured."""
    del facts
    return ()


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (Step("Say what is wanted (F9)"), Step("Sign"))


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The two distributions and the tolerance between them."""
    setup = facts.setup
    return two_distributions(
        setup.number("sigma_mm") or 0.001, setup.number("drift_mm", 0.0), setup.number("smallest_break_mm") or 0.1,
        result.quantity("tolerance_mm").value if result else None, units,
    )  # fmt: skip


SENTENCES = {
    "possible": "Call a tool broken when it is {tol:small} shorter: from {least:small} to {most:small} would do.",
    "then-possible": "Sign it, then put it into the checks.",
    "impossible": "No tolerance meets both: {least:small} keeps the false alarms, but lets too many breaks of "
    "{size:small} pass.",
    "then-impossible": "Look for a larger break only, touch more often a check, or make the touch repeat better.",
    "odds": "With it {alarm} good tools is called bad, {missed} such breaks is missed.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=ThresholdReadings,
    main=("tolerance_mm",),
    main_title="Tolerance",
    offered={
        "drift_mm": 0.01,
        "smallest_break_mm": 0.2,
        "false_alarm": 0.001,
        "missed": 0.001,
    },
    needs=(Need("sigma_mm", offers.TOUCH_SCATTER, "value", "repeatability"),),
    caution=Caution("A sum, nothing moves", "Try the check by hand once with a short tool before it runs unattended."),
)
