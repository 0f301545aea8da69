"""A tip on the arm's faces: its offset, and what changed against the last one."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.uncertain import Influences, Uncertain, value_of
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.shown import as_shown
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.stations.lathe.axes import carried_value, enter_shown, plain_or_uncertain
from nonna.stations.lathe.procedures.tip.model import AXES, FLANKS, TipReadings, TipSetup, TipTouch

said = saying("lathe-tip")


def _touched(readings: Sequence[TipTouch], *, flanks: bool) -> dict[str, dict[str, list[float]]]:
    """Return positions by axis and, there, by flank.

    Parameters: flanks, whether Z is the tool's axis: a touch that does not say its flank would be off by half a cutter.
    Raises: NonnaError (it does not).
    """
    found: dict[str, dict[str, list[float]]] = {}
    both = flanks or any(r.face for r in readings)
    for i, touch in enumerate(readings):
        where = f"readings[{i}].face"
        if touch.face and touch.axis == "x":
            raise NonnaError("unknown-field", "{place}: flanks are touched in Z.", where, place=where)
        if both and touch.axis == "z" and touch.face is None:
            raise NonnaError(
                "missing-field",
                "{place}: say which flank, +z or -z. Where a file cannot say it, touch the tool on its sheet.",
                where,
                place=where,
            )
        found.setdefault(touch.axis, {}).setdefault(touch.face or touch.axis, []).append(touch.position_mm)
    return found


def _flanks(
    setup: TipSetup, means: Mapping[str, Uncertain], influences: Influences
) -> tuple[tuple[Uncertain, Uncertain], float]:
    """Return what Z of a tool's axis rests on with the touches of its flanks, and how far those are apart (mm).

    Both planes hang on one reference tool: their errors go together, as one source with the lesser freedom.
    """
    if not means.keys() >= FLANKS:
        raise TooFewReadingsError("Touch both flanks: the tool's axis is half way between them.")
    planes = [require(getattr(setup, f"{name}_mm"), f"setup.{name}_mm") for name in ("plane_z", "plane_minus_z")]
    dofs = [math.inf if dof is None else dof for dof in (setup.plane_z_dof, setup.plane_minus_z_dof)]
    doubt = (setup.plane_z_u_mm + setup.plane_minus_z_u_mm) / 2.0
    plane = influences.add("arm's planes in Z", sum(planes) / 2.0, doubt, min(dofs), field="setup.plane_z_mm")
    apart = value_of(means["+z"]) - value_of(means["-z"]) - (planes[0] - planes[1])
    return (plane, (means["+z"] + means["-z"]) / -2.0), float(apart)


def _change(setup: TipSetup, axis: str, base: tuple[Uncertain, Uncertain], influences: Influences) -> Quantity:
    """Return offset less the last one; what both rest on cancels where it is the same."""
    rests_on, touches = base
    last = setup.enter(influences, f"expected_{axis}", f"last {axis.upper()} offset")
    kept = float(value_of(rests_on)) if setup.same_plane else rests_on
    return plain_or_uncertain(
        f"change_{axis}_mm", f"{as_shown(axis, setup.x_shows)} changed by", kept + touches - last, influences
    )


def evaluate(file: TipReadings) -> Evaluation:
    """``offset = plane - mean``; a drill's X is the turret's centre line, Z of a tool touched on both flanks its
    axis.
    """
    setup, rule = file.setup, file.rule.rule()
    touched = _touched(file.readings, flanks=setup.plane_minus_z_mm is not None)
    if not touched:
        raise TooFewReadingsError("Nothing was touched yet.")
    influences = Influences()
    shown = enter_shown(touched, setup.x_shows, setup, influences)
    bases: dict[str, tuple[Uncertain, Uncertain]] = {}  #: what the offset rests on, and the touches themselves
    for axis in touched:
        if axis in shown.means:
            plane = carried_value(setup, influences, f"plane_{axis}", f"arm's plane in {axis.upper()}")
            bases[axis] = (plane, -shown.means[axis])
    flanks = _flanks(setup, shown.means, influences) if FLANKS & shown.means.keys() else None
    if flanks is not None:
        bases["z"] = flanks[0]
    if "x" not in touched and setup.centre_line_x_mm is not None:
        bases["x"] = (setup.enter(influences, "centre_line_x", "turret's centre line"), 0.0)
    quantities: list[Quantity] = []
    checks: list[Check] = []
    told: list[Reason] = []
    for axis in AXES:
        if axis not in bases:
            continue
        title = as_shown(axis, setup.x_shows)
        offset = plain_or_uncertain(f"offset_{axis}_mm", f"{title} offset", sum(bases[axis]), influences)
        quantities.append(offset)
        doubt = {"U": offset.estimate.expanded} if offset.estimate else {}
        told.append(said("offset" if doubt else "plain", axis=title, value=offset.value, **doubt))
        expected: float | None = getattr(setup, f"expected_{axis}_mm")
        if setup.limit_mm is not None:
            require(expected, f"setup.expected_{axis}_mm")
        if expected is None:
            continue
        change = _change(setup, axis, bases[axis], influences)
        quantities.append(change)
        told.append(said("change", axis=title, d=change.value))
        if setup.limit_mm is not None:
            checks.append(
                check_limit(f"{title}: change", change.value, setup.limit_mm, rule, change.estimate, of=change.name)
            )
    if flanks is not None:
        told.append(said("flank", width=flanks[1]))
    return Evaluation(
        file.procedure, tuple(quantities), rule, told[0], said(str(worst(c.verdict for c in checks))), tuple(checks),
        shown.flags, tuple(told[1:]),
    )  # fmt: skip
