"""The reference tool from a master held in the chuck: touched on both sides of a half turn, so that its run-out
cancels.
"""

from __future__ import annotations

import math

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.metrology.drifting.thermal import at_temperature
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import master_flags, require
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.axes import carried_value, enter_shown
from nonna.stations.lathe.procedures.offset_master.model import TURNS, ChuckMasterReadings

said = saying("lathe-offset-master")

RUNOUT_MM = 0.02  #: of a master clamped with care, full swing, where nobody says


def evaluate(file: ChuckMasterReadings) -> Evaluation:
    """``offset_x = D(T) + 2 foil - mean`` (on radius half of that), mean of 0 and 180 degrees; ``offset_z = face + foil
    - mean``.
    """
    setup, master = file.setup, file.masters.master
    touched = {
        axis: {
            f"{axis} at {turn}": values
            for turn in TURNS
            if (values := [r.position_mm for r in file.readings if (r.axis, r.chuck_deg) == (axis, turn)])
        }
        for axis in ("x", "z")
    }
    touched = {axis: groups for axis, groups in touched.items() if groups}
    if not touched:
        raise TooFewReadingsError("Nothing was touched yet.")
    influences = Influences()
    shown = enter_shown(touched, setup.x_shows, setup, influences)
    foil = setup.enter(influences, "feeler", "foil between")
    quantities: list[Quantity] = []
    told = []
    for axis, groups in touched.items():
        factor = real_per_shown(axis, setup.x_shows)
        mean: Uncertain = sum(shown.means[name] for name in groups) / len(groups)
        if axis == "x":
            require(master.diameter_mm, "masters.master.diameter_mm", positive=True)
            certified = influences.add(
                "certificate", master.diameter_mm or 0.0, master.u_diameter_mm, field="masters.master.diameter_mm"
            )
            wide = at_temperature(certified, *master.climate(file.conditions).enter(influences, "master"))
            offset = (wide / 2.0 + foil) / factor - mean
        else:
            offset = carried_value(setup, influences, "face", "master's face") + foil - mean
        title = as_shown(axis, setup.x_shows)
        if len(groups) == 1:
            runs = (RUNOUT_MM if setup.runout_mm is None else setup.runout_mm) / 2.0
            off = influences.add(
                f"master off the axis, {axis} at one angle", 0.0, runs / math.sqrt(2.0), shape="rectangular"
            )
            offset = offset + off / factor
        estimate = influences.estimate(offset)
        quantities.append(Quantity.of(f"offset_{axis}_mm", f"{title} offset", estimate))
        told.append(said("found", axis=title, value=estimate.value, U=estimate.expanded))
        if axis == "x" and len(groups) == 2:
            first, second = (sum(values) / len(values) for values in groups.values())
            told.append(said("runs", value=abs(first - second) / 2.0 * factor))
    one = any(len(groups) == 1 for groups in touched.values())
    flags = (
        *shown.flags, *(("one-side",) if one else ()),
        *(master_flags(master, without=master.U_diameter_mm == 0.0) if "x" in touched else ()),
    )  # fmt: skip
    advice = (*told[1:], *((said("one-side"),) if one else ()))
    return Evaluation(file.procedure, tuple(quantities), file.rule.rule(), told[0], said("sign"), (), flags, advice)
