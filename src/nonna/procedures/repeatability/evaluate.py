"""Repeatability: the same touch many times over."""

from __future__ import annotations

import math

import numpy as np

from nonna.errors import NoRepeatabilityError, TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict, decide_interval
from nonna.metrology.doubt.quantiles import chi_square, student_t
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.series import Trend, fit_trend, grubbs_outliers
from nonna.metrology.doubt.uncertain import Estimate, Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.repeatability.model import ADVISED, LEAST, RepeatabilityReadings
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("repeatability")


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


def evaluate(file: RepeatabilityReadings) -> Evaluation:
    """``s``, ``2 s``, range, drift with its p-value, outliers by Grubbs."""
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
