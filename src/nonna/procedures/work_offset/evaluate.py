"""Work offset: a surface touched with a tool, a probe or a sensor of known height between."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.telling import saying
from nonna.procedures.work_offset.model import WorkOffsetReadings

said = saying("work-offset")


def evaluate(file: WorkOffsetReadings) -> Evaluation:
    """``W = Z_touch - L_tool - height``."""
    setup, positions = file.setup, [r.position_mm for r in file.readings]
    if not positions:
        raise TooFewReadingsError("No touch was taken yet.")
    touch = touch_scatter([positions], **setup.history())
    influences = Influences()
    mean = enter_means({"all": positions}, touch, influences)["all"]
    long = setup.enter(influences, "tool_length", "length of what touches")
    height = setup.enter(influences, "height", "height between")
    estimate = influences.estimate(mean - long - height)
    return Evaluation(
        file.procedure,
        (Quantity.of("offset_mm", "Work offset Z", estimate),),
        file.rule.rule(),
        said("found", w=estimate.value, U=estimate.expanded),
        said("sign"),
        flags=("scatter-above-history",) if touch.above_history else (),
    )
