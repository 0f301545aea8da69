"""The reference tool by a test cut: turn, measure with a micrometer, face, measure."""

from __future__ import annotations

import math

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import require
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.procedures.offset_cut.model import CutReadings

said = saying("lathe-offset-cut")


def evaluate(file: CutReadings) -> Evaluation:
    """``offset_x = mean measured diameter (half of it on radius) - machine X``; ``offset_z = face - machine Z``."""
    setup = file.setup
    influences = Influences()
    quantities: list[Quantity] = []
    above = False
    known = setup.history()
    known["resolution"] = setup.indicator.resolution_mm or setup.resolution_mm
    for axis in ("x", "z"):
        values = [r.value_mm for r in file.readings if r.axis == axis]
        if not values:
            continue
        machine: float | None = getattr(setup, f"machine_{axis}_mm")
        require(machine, f"setup.machine_{axis}_mm")
        touch = touch_scatter([values], **known)  # of the measured value: real mm, whatever the machine shows
        above = above or touch.above_history
        mean = enter_means({axis: values}, touch, influences, f"repeated measurement in {axis.upper()}")[axis]
        off = influences.add(
            f"micrometer in {axis.upper()}", 0.0, setup.indicator.mpe_mm / math.sqrt(3.0), shape="rectangular"
        )
        halved = 0.5 if axis == "x" and real_per_shown("x", setup.x_shows) == 1.0 else 1.0
        estimate = influences.estimate((mean + off) * halved - machine)
        quantities.append(Quantity.of(f"offset_{axis}_mm", f"{as_shown(axis, setup.x_shows)} offset", estimate))
    if not quantities:
        raise TooFewReadingsError("Nothing was measured yet.")
    told = [
        said(
            "found",
            axis=q.title.removesuffix(" offset"),
            value=q.value,
            U=q.estimate.expanded if q.estimate else 0.0,
        )
        for q in quantities
    ]
    flags = ("scatter-above-history",) if above else ()
    return Evaluation(
        file.procedure, tuple(quantities), file.rule.rule(), told[0], said("sign"), (), flags, tuple(told[1:])
    )
