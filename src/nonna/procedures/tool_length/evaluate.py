"""Tool length: a tool's tip touched on a calibrated setter."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import TOUCH, enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import BudgetRow, Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.telling import saying
from nonna.procedures.tool_length.model import ToolLengthReadings
from nonna.procedures.turning import LATE, enter_late
from nonna.shop.reason import Reason

said = saying("tool-length")


def _what_would_decide(budget: tuple[BudgetRow, ...]) -> Reason:
    largest = max(budget, key=lambda row: row.share)
    if largest.source == TOUCH:
        return said("more-touches")
    if largest.source == LATE:
        return said("slower-feed")
    return said("better-plane")


def evaluate(file: ToolLengthReadings) -> Evaluation:
    """``L = mean Z - H + l``, ``l`` by how much a turning tool is touched late."""
    setup = file.setup
    positions = [r.position_mm for r in file.readings]
    if not positions:
        raise TooFewReadingsError("No touch was taken yet.")
    if setup.limit_mm is not None:
        require(setup.expected_mm, "setup.expected_mm")
    late = setup.lateness()
    touch = touch_scatter([positions], **setup.history(), extra_s=late.touch_s)
    influences = Influences()
    mean = enter_means({"all": positions}, touch, influences)["all"]
    plane = setup.enter(influences, "trigger_plane", "trigger plane")
    estimate = influences.estimate(mean - plane + enter_late(late, influences))
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    facts: dict[str, float] = {"length": estimate.value, "U": estimate.expanded}
    found, todo, advice = "found", "pass", []
    if setup.expected_mm is not None:
        change = estimate.value - setup.expected_mm
        facts["change"], found = change, "change"
        if setup.limit_mm is not None:
            checks = (check_limit("Change against the table", change, setup.limit_mm, rule, estimate),)
            verdict = checks[0].verdict
            facts["limit"], found, todo = setup.limit_mm, f"change-{verdict}", str(verdict)
            if verdict is Verdict.UNDECIDED:
                advice.append(_what_would_decide(estimate.budget))
    flags = ("scatter-above-history",) if touch.above_history else ()
    quantity = Quantity.of("length_mm", "Length", estimate)
    return Evaluation(file.procedure, (quantity,), rule, said(found, **facts), said(todo), checks, flags, tuple(advice))
