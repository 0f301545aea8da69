"""Repeatability: the same touch many times over."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np

from nonna.errors import NoRepeatabilityError, TooFewReadingsError
from nonna.figures.plots import run_chart
from nonna.metrology.decision import Verdict, decide_interval
from nonna.metrology.quantiles import chi_square, student_t
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.series import Trend, fit_trend, grubbs_outliers
from nonna.metrology.uncertain import Estimate, Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.shop.subjects import SubjectKind
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure


LEAST, ADVISED = 5, 25
SHEET_TOUCHES = {"ten": 10, "25": ADVISED}

said = saying("repeatability")
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


class RepeatabilitySetup(Setup):
    """Setup of a repeatability check."""

    limit_2s_mm: NotNegative | None = asked(
        "Largest scatter, 2 s", help="Twice the standard deviation must stay below this.", default=None, limit=True
    )


class ValueReading(Strict):
    """One reading, and when it was taken if that is known."""

    value_mm: Number
    t_s: Number | None = None


class RepeatabilityReadings(ReadingsFile):
    """Readings file of a repeatability check."""

    procedure: Literal["repeatability"]
    setup: RepeatabilitySetup
    readings: list[ValueReading]
    value_fields = ("value_mm",)


class Repeatability(Procedure):
    """``s``, ``2 s``, range, drift with its p-value, outliers by Grubbs."""

    name = "repeatability"
    sentences = SENTENCES
    model = RepeatabilityReadings
    main = ("two_s_mm",)
    main_title = "Scatter, 2 s"
    variants = (Variant("ten", "Ten touches"), Variant("25", "25 touches, as advised"))
    reads: ClassVar[dict[str, str]] = {"value_mm": "z"}
    offered: ClassVar[dict[str, Any]] = {"limit_2s_mm": 0.003, "resolution_mm": 0.0001}
    caution = Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold.",
    )

    def _evaluate(self, file: RepeatabilityReadings) -> Evaluation:
        values = np.array([r.value_mm for r in file.readings])
        n = int(values.size)
        if n < LEAST:
            raise TooFewReadingsError(
                "Repeatability needs at least {least} readings ({advised} are better), not {n}.",
                least=LEAST,
                advised=ADVISED,
                n=n,
            )
        setup = file.setup
        touch = touch_scatter([values], **setup.history())
        s = float(values.std(ddof=1)) if np.ptp(values) > 0.0 else 0.0
        trend = fit_trend(values)
        outliers = grubbs_outliers(values)
        drift = _drift_estimate(trend, setup.resolution_mm)
        low, high = _bounds(2 * s, n - 1)
        rule = file.rule.rule()
        verdict = decide_interval(low, 2 * s, high, setup.limit_2s_mm, rule)
        checks: tuple[Check, ...] = ()
        if setup.limit_2s_mm is not None:
            checks = (Check("Scatter, 2 s", 2 * s, low, high, setup.limit_2s_mm, verdict),)
        flags = []
        if touch.above_history:
            flags.append("scatter-above-history")
        if outliers:
            flags.append("outliers")
        if trend.p < 0.01:
            flags.append("drift")
        if s < setup.resolution_mm / math.sqrt(12.0):
            flags.append("scatter-below-resolution")
        return Evaluation(
            file.procedure,
            (
                Quantity("s_mm", "Standard deviation s", s),
                Quantity("two_s_mm", "Scatter, 2 s", 2 * s),
                Quantity("range_mm", "Range", float(np.ptp(values))),
                Quantity.of("drift_mm_per_touch", "Drift a touch", drift, "mm/touch"),
                Quantity("p", "Chance of such a drift", trend.p, "1"),
            ),
            rule,
            _headline(2 * s, high, setup.limit_2s_mm, verdict),
            said(str(verdict)),
            checks,
            tuple(flags),
            _advice(n, outliers, verdict),
            {"outliers": list(outliers)},
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Ten touches are enough to carry on with; 25 are better."""
        count = SHEET_TOUCHES.get(bench.variant, 10)
        return tuple(Slot({}, f"{i + 1}/{count}", "Touch again", "touch") for i in range(count))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        if bench.subject.kind is SubjectKind.ARM:
            first = (Step("Wipe the tip and the arm's stylus"), Step("Swing the arm out; spindle stopped"))
        else:
            first = (Step("Wipe taper, master and pad"), Step("Seat the master; spindle stopped"))
        return (
            *first,
            Step(f"Touch the same spot {SHEET_TOUCHES.get(bench.variant, 10)} times", "touch"),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """About where the last touch was."""
        known = super().expected(bench, slot, readings, field)
        return known if known is not None else bench.about.get("top")

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """Each touch about the mean."""
        outliers = result.extras["outliers"] if result else ()
        return run_chart("Each touch about the mean", [r["value_mm"] for r in readings], outliers, units)


def _drift_estimate(trend: Trend, resolution: float) -> Estimate:
    """The slope with the uncertainty of its own residuals, or of rounding where that is larger."""
    by_rounding = resolution / math.sqrt(12.0 * trend.s_xx)
    u, dof = trend.u, float(trend.dof)
    if student_t(0.975, dof) * u < student_t(0.975, math.inf) * by_rounding:
        u, dof = by_rounding, math.inf
    if u == 0.0:
        raise NoRepeatabilityError("The readings lie on a line to the last digit; give resolution_mm.")
    influences = Influences()
    return influences.estimate(influences.add("residuals about the line", trend.per_touch, u, dof))


def _bounds(two_s: float, dof: int) -> tuple[float, float]:
    """One-sided 95 % bounds of 2 s, each way, by chi-square."""
    return two_s * math.sqrt(dof / chi_square(0.95, dof)), two_s * math.sqrt(dof / chi_square(0.05, dof))


def _headline(two_s: float, high: float, limit: float | None, verdict: Verdict) -> Reason:
    return said(f"found-{verdict}", two_s=two_s, high=high, limit=limit or 0.0)


def _advice(n: int, outliers: tuple[int, ...], verdict: Verdict) -> tuple[Reason, ...]:
    advice = []
    if outliers:
        names = ", ".join(str(i + 1) for i in sorted(outliers))
        advice.append(said("outliers", touches=names))
    if verdict is Verdict.UNDECIDED and n < ADVISED:
        advice.append(said("go-on", touches=ADVISED))
    return tuple(advice)
