"""A tool measured on the shop's presetter for the machine that is going to use it: put right by calibration and
transfer.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.presetter_tool.evaluate import put_right
from nonna.procedures.shown import shown_scatter
from nonna.procedures.telling import saying
from nonna.procedures.tool_from_presetter.model import FromPresetterReadings, FromPresetterSetup
from nonna.shop.reason import Reason

said = saying("tool-from-presetter")

LEAST_APART = 2  #: readings that can lie apart


def _apart(values: Sequence[float], setup: FromPresetterSetup) -> bool:
    """Whether readings of one length lie further apart than the presetter's repeatability, or than a whole transfer
    says.

    The transfer's doubt of one more tool holds the scatter of a mean of its readings, and more.
    """
    if len(values) < LEAST_APART:
        return False
    if setup.repeatability_mm:
        return shown_scatter({"all": values}, "z", setup.x_shows, setup).above_history
    u = require(setup.transfer_u_mm, "setup.transfer_u_mm")
    if u == 0.0:
        return False
    known = u * math.sqrt(len(values))
    return touch_scatter([values], history=known, history_dof=_freedom(setup.transfer_dof)).above_history


def _freedom(dof: float | None) -> float:
    return math.inf if dof is None else dof


def _fewer(setup: FromPresetterSetup, count: int, influences: Influences) -> Uncertain:
    """Return nothing, with the scatter that a mean of fewer readings has beyond those the transfer was made of."""
    many = setup.transfer_means_of
    if many is None or count >= many:
        return 0.0
    if setup.repeatability_mm:
        one, dof = setup.repeatability_mm, _freedom(setup.repeatability_dof)
    else:  # not known: no larger than the whole transfer says
        one, dof = (setup.transfer_u_mm or 0.0) * math.sqrt(many), _freedom(setup.transfer_dof)
    more = one * math.sqrt(1.0 / count - 1.0 / many)
    return influences.add("fewer readings than the transfer's", 0.0, more, dof)


def _beside_own(
    setup: FromPresetterSetup, relative: Uncertain, influences: Influences, quantities: list[Quantity]
) -> list[Reason]:
    """Compare with what the machine's own setter said.

    On one plane its doubt is common to both and left out; after a calibration anew the own length stands on the new
    plane and the transfer on the old one, so both count.
    """
    if setup.own_length_mm is None:
        return []
    common = 0.0 if setup.setter_recalibrated else setup.trigger_plane_u_mm
    left = math.sqrt(max(setup.own_length_u_mm**2 - common**2, 0.0))
    own = influences.add("the setter's own touches", setup.own_length_mm, left, _freedom(setup.own_length_dof))
    apart = influences.estimate(relative - own)
    quantities.append(Quantity.of("from_own_mm", "Less the setter's", apart))
    code = "agrees" if abs(apart.value) <= apart.expanded else "differs"
    return [said(code, own=setup.own_length_mm, d=apart.value, U=apart.expanded)]


def evaluate(file: FromPresetterReadings) -> Evaluation:
    """``length = presetter's length + transfer``: in the doubt stand one more tool of the transfer and the machine's
    plane.

    The presetter's own calibration and scatter are in the scatter of the transfer, which was measured with them: they
    are not counted again. A line of transfer is taken at its worst, at the end of its range."""
    setup, rule = file.setup, file.rule.rule()
    shown = {axis: [r.value_mm for r in file.readings if r.axis == axis] for axis in ("z", "x")}
    if not shown["z"]:
        raise TooFewReadingsError("The length was not read yet.")
    influences = Influences()
    right = put_right(setup, "z", math.fsum(shown["z"]) / len(shown["z"]))
    lean = (
        (right - setup.transfer_pivot_mm) * (setup.transfer_slope_ppm or 0.0) / PPM
        if setup.transfer_pivot_mm is not None
        else 0.0
    )
    one_more = influences.add(
        "one more tool of the transfer", require(setup.transfer_mm, "setup.transfer_mm") + lean,
        require(setup.transfer_u_mm, "setup.transfer_u_mm"), _freedom(setup.transfer_dof), field="setup.transfer_mm",
    )  # fmt: skip
    one_more = one_more + _fewer(setup, len(shown["z"]), influences)
    plane_u, plane_dof = setup.trigger_plane_u_mm, _freedom(setup.trigger_plane_dof)
    plane = influences.add("trigger plane", 0.0, plane_u, plane_dof, field="setup.trigger_plane_mm")
    since = influences.add(
        "trigger plane at the transfer", 0.0, plane_u if setup.setter_recalibrated else 0.0, plane_dof
    )
    relative = one_more + since + right
    length = influences.estimate(relative - plane)
    quantities = [Quantity.of("length_mm", "Length", length)]
    told = [said("length", value=length.value, U=length.expanded)]
    if shown["x"]:
        mean = enter_means(
            {"all": shown["x"]}, shown_scatter({"all": shown["x"]}, "x", setup.x_shows, setup), influences
        )["all"]
        wide = influences.estimate(put_right(setup, "x", mean, influences))
        quantities.append(Quantity.of("diameter_mm", "Diameter", wide))
        told.append(said("diameter", value=wide.value, U=wide.expanded))
    told += _beside_own(setup, relative, influences, quantities)
    if setup.setter_recalibrated:
        told.append(said("recalibrated"))
    checks: tuple[Check, ...] = ()
    if setup.limit_mm is not None:
        change = length.value - require(setup.expected_mm, "setup.expected_mm")
        checks = (check_limit("Length: change", change, setup.limit_mm, rule, length, of="length_mm"),)
    verdict = checks[0].verdict if checks else Verdict.NONE
    flags = ("scatter-above-history",) if _apart(shown["z"], setup) else ()
    return Evaluation(
        file.procedure, tuple(quantities), rule, told[0], said(str(verdict)), checks, flags, tuple(told[1:])
    )
