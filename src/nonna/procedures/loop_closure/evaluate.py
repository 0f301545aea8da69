"""Loop closure: the same surface through the setter's chain and through the probe's."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.loop_closure.model import ClosureReadings
from nonna.procedures.telling import saying

said = saying("loop-closure")

_NAMES = {"tool": "tool", "probe": "probe"}


def evaluate(file: ClosureReadings) -> Evaluation:
    """``difference = mean probe - mean tool``."""
    groups: dict[str, list[float]] = {"tool": [], "probe": []}
    for reading in file.readings:
        groups[reading.via].append(reading.height_mm)
    for via, values in groups.items():
        if not values:
            raise TooFewReadingsError("The surface was not yet measured by the {value}.", value=_NAMES[via])
    touch = touch_scatter(list(groups.values()), **file.setup.history())
    influences = Influences()
    means = enter_means(groups, touch, influences)
    estimate = influences.estimate(means["probe"] - means["tool"])
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    if file.setup.limit_mm is not None:
        checks = (check_limit("Difference", estimate.value, file.setup.limit_mm, rule, estimate),)
    verdict = checks[0].verdict if checks else Verdict.NONE
    size, side = abs(estimate.value), "higher" if estimate.value > 0 else "lower"
    facts = {"size": size, "U": estimate.expanded, "limit": file.setup.limit_mm or 0.0}
    advice = (said("apart" if size > estimate.expanded else "agree"), said("new-length", d=estimate.value))
    return Evaluation(
        file.procedure,
        (Quantity.of("difference_mm", "Probe less tool", estimate),),
        rule,
        said(f"{side}-{verdict}", **facts),
        said(str(verdict)),
        checks,
        ("scatter-above-history",) if touch.above_history else (),
        advice,
    )
