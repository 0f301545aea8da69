"""Tooth run-out: how far each insert of a cutter stands out, touched one by one with the spindle oriented."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import TOUCH
from nonna.metrology.doubt.scatter import TouchScatter, touch_scatter
from nonna.metrology.doubt.spread_of_means import true_range
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.telling import saying
from nonna.procedures.tooth_runout.model import ToothReadings

said = saying("tooth-runout")


def _height_doubt(touch: TouchScatter, count: int) -> float:
    """Return the expanded uncertainty of one tooth's height from so many touches."""
    influences = Influences()
    return influences.estimate(influences.add(TOUCH, 0.0, *touch.mean_u(count))).expanded


def evaluate(file: ToothReadings) -> Evaluation:
    """Each tooth's height from the mean of its touches; ``run-out = longest - shortest``, less what scatter adds to a
    range.
    """
    groups: dict[str, list[float]] = {}
    for reading in file.readings:
        groups.setdefault(str(reading.tooth), []).append(reading.position_mm)
    if len(groups) < 2:
        raise TooFewReadingsError("At least two teeth are needed, not {count}.", count=len(groups))
    touch = touch_scatter(list(groups.values()), **file.setup.history())
    heights = {tooth: sum(values) / len(values) for tooth, values in groups.items()}
    longest, shortest = max(heights, key=heights.__getitem__), min(heights, key=heights.__getitem__)
    u, dof = touch.mean_u(min(len(values) for values in groups.values()))
    found = true_range(list(heights.values()), u, dof)
    influences = Influences()
    number = influences.add(TOUCH, found.value, found.u, dof)
    estimate, doubt = influences.estimate(number), _height_doubt(touch, min(len(v) for v in groups.values()))
    runout = estimate.value
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    if file.setup.limit_mm is not None:
        checks = (check_limit("Tooth run-out", runout, file.setup.limit_mm, rule, estimate),)
    verdict = checks[0].verdict if checks else Verdict.NONE
    facts = {"r": runout, "U": doubt, "limit": file.setup.limit_mm or 0.0, "longest": longest, "shortest": shortest}
    out = {tooth: heights[longest] - height for tooth, height in heights.items()}
    back = [said("back", tooth=tooth, d=d) for tooth, d in out.items() if tooth != longest]
    return Evaluation(
        file.procedure,
        (Quantity.of("runout_mm", "Tooth run-out", estimate),),
        rule,
        said(f"found-{verdict}", **facts),
        said(str(verdict), tooth=longest),
        checks,
        ("scatter-above-history",) if touch.above_history else (),
        tuple(back),
        {"longest_tooth": int(longest), "back_mm": out},
    )  # fmt: skip
