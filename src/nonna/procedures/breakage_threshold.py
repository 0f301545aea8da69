"""Breakage threshold: the tolerance that neither cries wolf nor lets a broken tool pass."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import Field

from nonna.figures.tool import two_distributions
from nonna.metrology.thresholds import design
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Bench, Carry, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

Probability = Annotated[float, Field(gt=0.0, lt=1.0, allow_inf_nan=False)]

said = saying("breakage-threshold")
SENTENCES = {
    "possible": "Call a tool broken when it is {tol:small} shorter: from {least:small} to {most:small} would do.",
    "then-possible": "Sign it, then put it into the checks.",
    "impossible": "No tolerance meets both: {least:small} keeps the false alarms, but lets too many breaks of {size:small} pass.",
    "then-impossible": "Look for a larger break only, touch more often a check, or make the touch repeat better.",
    "odds": "With it {alarm} good tools is called bad, {missed} such breaks is missed.",
}


class ThresholdSetup(Setup):
    """Setup of a breakage threshold."""

    sigma_mm: Positive = asked("Scatter of one check", help="Standard deviation, from a repeatability check.")
    drift_mm: NotNegative = asked("Possible drift", help="Shift either way, from warming up and wear.", default=0.0)
    smallest_break_mm: Positive = asked("Smallest break to see")
    false_alarm: Probability = asked("False alarms wanted", "1", "Probability that a good tool is called bad.")
    missed: Probability = asked("Misses wanted", "1", "Probability that such a break is not seen.")


class NoReading(Strict):
    """There are none."""


class ThresholdReadings(ReadingsFile):
    """Readings file of a breakage threshold: no readings, only what is wanted."""

    procedure: Literal["breakage-threshold"]
    setup: ThresholdSetup
    readings: Annotated[list[NoReading], Field(max_length=0)]


class BreakageThreshold(Procedure):
    """``P(|N(drift, sigma)| > tol)`` against ``P(N(-d + drift, sigma) > -tol)``."""

    name = "breakage-threshold"
    sentences = SENTENCES
    model = ThresholdReadings
    main = ("tolerance_mm",)
    main_title = "Tolerance"
    offered: ClassVar[dict[str, Any]] = {
        "drift_mm": 0.01, "smallest_break_mm": 0.2, "false_alarm": 0.001, "missed": 0.001,
    }  # fmt: skip
    carries = (Carry("sigma_mm", "repeatability", "s_mm", "value", "repeatability"),)
    caution = Caution("A sum, nothing moves", "Try the check by hand once with a short tool before it runs unattended.")

    def _evaluate(self, file: ThresholdReadings) -> Evaluation:
        setup = file.setup
        found = design(setup.sigma_mm, setup.drift_mm, setup.smallest_break_mm, setup.false_alarm, setup.missed)
        facts = {"tol": found.tolerance, "least": found.least, "most": found.most, "size": setup.smallest_break_mm}
        ends = "possible" if found.possible else "impossible"
        return Evaluation(
            file.procedure,
            (
                Quantity("tolerance_mm", "Tolerance", found.tolerance),
                Quantity("false_alarm", "False alarms", found.false_alarm, "1"),
                Quantity("missed", "Missed", found.missed, "1"),
            ),
            file.rule.rule(),
            said(ends, **facts),
            said(f"then-{ends}"),
            advice=(said("odds", alarm=_odds(found.false_alarm), missed=_odds(found.missed)),),
            extras={"possible": found.possible},
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Nothing is measured."""
        del bench
        return ()

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (Step("Say what is wanted (F9)"), Step("Sign"))

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The two distributions and the tolerance between them."""
        setup = bench.setup
        return two_distributions(
            setup.number("sigma_mm") or 0.001, setup.number("drift_mm", 0.0), setup.number("smallest_break_mm") or 0.1,
            result.quantity("tolerance_mm").value if result else None, units,
        )  # fmt: skip


def _odds(p: float) -> str:
    """Say a probability as one in so many."""
    if p <= 1e-12:
        return "practically none of all"
    return f"one in {1 / p:,.0f}" if p < 0.5 else f"{p * 100:.0f} % of all"
