"""Breakage threshold: the tolerance that neither cries wolf nor lets a broken tool pass."""

from __future__ import annotations

from nonna.metrology.thresholds import design
from nonna.procedures.breakage_threshold.model import ThresholdReadings
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.telling import saying

said = saying("breakage-threshold")


def _odds(p: float) -> str:
    """Say a probability as one in so many."""
    if p <= 1e-12:
        return "practically none of all"
    return f"one in {1 / p:,.0f}" if p < 0.5 else f"{p * 100:.0f} % of all"


def evaluate(file: ThresholdReadings) -> Evaluation:
    """``P(|N(drift, sigma)| > tol)`` against ``P(N(-d + drift, sigma) > -tol)``."""
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
