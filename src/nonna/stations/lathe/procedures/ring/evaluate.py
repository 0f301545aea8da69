"""The turret probe in a ring, or on the part itself: its effective ball, inside and outside apart."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.drifting.thermal import at_temperature
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import master_flags, require
from nonna.procedures.shown import as_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.axes import across, carried_value, enter_shown
from nonna.stations.lathe.procedures.ring.model import LatheRingReadings

said = saying("lathe-ring")


def evaluate(file: LatheRingReadings) -> Evaluation:
    """``A = f (mean+ - mean-)``; ball internal ``D(T) - A``, external ``A - D(T)``; one touch ``A = 2 f |mean -
    centre|``.
    """
    setup, ring = file.setup, file.masters.ring
    setup.must_reach()
    require(ring.diameter_mm, "masters.ring.diameter_mm", positive=True)
    sides = {at: [r.position_mm for r in file.readings if r.at == at] for at in ("+", "-")}
    sides = {at: values for at, values in sides.items() if values}
    if not sides:
        raise TooFewReadingsError("Nothing was touched yet.")
    influences = Influences()
    if len(sides) == 1:
        require(setup.centre_mm, "setup.centre_mm")
    shown = enter_shown({setup.axis: sides}, setup.x_shows, setup, influences)
    plus, minus = shown.means.get("+"), shown.means.get("-")
    centre = None if len(sides) == 2 else carried_value(setup, influences, "centre", "spindle's centre")
    wide = across(setup.axis, setup.x_shows, plus, minus, centre)
    certified = influences.add(
        "certificate", ring.diameter_mm or 0.0, ring.u_diameter_mm, field="masters.ring.diameter_mm"
    )
    true = at_temperature(certified, *ring.climate(file.conditions).enter(influences, "ring"))
    ball = influences.estimate(true - wide if setup.side == "internal" else wide - true)
    quantities = [Quantity.of("ball_diameter_mm", "Effective ball", ball)]
    advice = []
    if plus is not None and minus is not None:
        middle = influences.estimate((plus + minus) / 2)
        quantities.append(Quantity.of("centre_mm", f"Centre, {as_shown(setup.axis, setup.x_shows)}", middle))
        advice.append(said("centre", centre=middle.value))
    uneven = len(sides) == 2 and len(sides["+"]) != len(sides["-"])
    flags = (
        *shown.flags, *(("unequal-sides",) if uneven else ()), *master_flags(ring, without=ring.U_diameter_mm == 0.0),
    )  # fmt: skip
    found = said("found", value=ball.value, U=ball.expanded, side=setup.side)
    return Evaluation(
        file.procedure, tuple(quantities), file.rule.rule(), found, said("sign"), (), flags, tuple(advice)
    )
