"""Probe length: the stylus ball on a surface of known height."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.probe_length.model import ProbeLengthReadings
from nonna.procedures.telling import saying

said = saying("probe-length")


def evaluate(file: ProbeLengthReadings) -> Evaluation:
    """``L_p = mean Z - surface + correction``."""
    setup, positions = file.setup, [r.position_mm for r in file.readings]
    if not positions:
        raise TooFewReadingsError("No touch was taken yet.")
    touch = touch_scatter([positions], **setup.history())
    influences = Influences()
    mean = enter_means({"all": positions}, touch, influences)["all"]
    surface = setup.enter(influences, "surface", "surface")
    correction = setup.enter(influences, "correction", "correction")
    estimate = influences.estimate(mean - surface + correction)
    return Evaluation(
        file.procedure,
        (Quantity.of("probe_length_mm", "Probe length", estimate),),
        file.rule.rule(),
        said("found", length=estimate.value, U=estimate.expanded),
        said("sign"),
        flags=("scatter-above-history",) if touch.above_history else (),
    )
