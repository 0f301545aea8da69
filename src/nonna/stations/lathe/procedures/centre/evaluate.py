"""The turret's centre line: an indicator in the chuck swept round a bar held in a station."""

from __future__ import annotations

import math

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.procedures.centre.model import SIDES, CentreReadings

said = saying("lathe-centre")


def evaluate(file: CentreReadings) -> Evaluation:
    """``x = (mean+ - mean-) / 2``, the bar's real distance from the axis; ``centre line = x / f - machine X``."""
    setup = file.setup
    turn = setup.indicator.cosine
    sides = {at: [r.value_mm * turn for r in file.readings if r.at == at] for at in SIDES}
    if not sides["+x"] or not sides["-x"]:
        raise TooFewReadingsError("The +X and the -X side are needed, each read at least once.")
    require(setup.machine_x_mm, "setup.machine_x_mm")
    influences = Influences()
    swept: dict[str, list[float]] = {at: values for at, values in sides.items() if values}
    touch = touch_scatter(list(swept.values()), **setup.history())
    means = enter_means(swept, touch, influences, "repeated sweep")
    off = influences.add("dial", 0.0, setup.indicator.mpe_mm * turn / math.sqrt(3.0), shape="rectangular")
    factor = real_per_shown("x", setup.x_shows)
    title = as_shown("x", setup.x_shows)
    line = ((means["+x"] - means["-x"]) / 2 + off) * (1.0 / factor) - setup.machine_x_mm
    quantities = [Quantity.of("centre_line_x_mm", f"Centre line, {title} offset", influences.estimate(line))]
    told, checks = [], tuple[Check, ...]()
    rule = file.rule.rule()
    if "+y" in means and "-y" in means:
        high = influences.estimate((means["+y"] - means["-y"]) / 2 + off)
        quantities.append(Quantity.of("height_mm", "Height against the axis", high))
        told.append(said("height", d=high.value))
        if setup.limit_height_mm is not None:
            checks = (check_limit("Height", high.value, setup.limit_height_mm, rule, high, of="height_mm"),)
    found = quantities[0].estimate
    flags = ("scatter-above-history",) if touch.above_history else ()
    headline = said("found", axis=title, value=quantities[0].value, U=found.expanded if found else 0.0)
    advice = said(str(checks[0].verdict) if checks else "sign")
    return Evaluation(file.procedure, tuple(quantities), rule, headline, advice, checks, flags, tuple(told))
