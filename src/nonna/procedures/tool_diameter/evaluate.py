"""Tool diameter: a tool's edges touched on the faces of a calibrated setter, from both sides or from one."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import by_axis, enter_by_axis
from nonna.metrology.doubt.scatter import scatter_by_axis
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.facts import Readings
from nonna.procedures.inputs import require
from nonna.procedures.telling import saying
from nonna.procedures.tool_diameter.model import FACES, DiameterReadings, DiameterSetup
from nonna.procedures.turning import enter_late

said = saying("tool-diameter")

_END = {"x": "", "y": "_y"}  # how the setup names an axis


def way_of(readings: Readings) -> str:
    """Return the way of doing it that touches the faces of these readings."""
    faces = {str(r["face"]) for r in readings}
    return next((way for way, wanted in FACES.items() if set(wanted) == faces), _one_sided(faces))


def _one_sided(faces: set[str]) -> str:
    axes = {face[1] for face in faces}
    return "four" if len(axes) == 2 else "one-y" if axes == {"y"} else "one"


def _widths(setup: DiameterSetup, influences: Influences, axes: Sequence[str]) -> dict[str, Uncertain]:
    """Return the setter's width by axis; two of them come from one master, so their errors go together."""
    if len(axes) == 1:
        name = f"setter_width{_END[axes[0]]}"
        return {axes[0]: setup.enter(influences, name, "setter's width")}
    dofs = [math.inf if dof is None else dof for dof in (setup.setter_width_dof, setup.setter_width_y_dof)]
    one = influences.add("setter's width", 0.0, 1.0, min(dofs), field="setup.setter_width_mm")
    return {
        "x": (setup.setter_width_mm or 0.0) + setup.setter_width_u_mm * one,
        "y": (setup.setter_width_y_mm or 0.0) + setup.setter_width_y_u_mm * one,
    }


def _across(
    axis: str,
    means: Mapping[str, Uncertain],
    width: Uncertain,
    late: Uncertain,
    setup: DiameterSetup,
    influences: Influences,
) -> Uncertain:
    """Return the diameter along one axis, from both of its faces or from one. Raises: NonnaError (no centre)."""
    plus, minus = means.get(f"+{axis}"), means.get(f"-{axis}")
    if plus is not None and minus is not None:
        return plus - minus - width + 2.0 * late
    name = f"setter_centre{_END[axis]}"
    require(getattr(setup, f"{name}_mm"), f"setup.{name}_mm")
    centre = setup.enter(influences, name, "setter's centre")
    reach = plus - centre if plus is not None else centre - minus
    return 2.0 * (reach - width / 2.0 + late)


def evaluate(file: DiameterReadings) -> Evaluation:
    """``D = (x+ - x-) - width + 2 l``; from one side ``D = 2 (|x - centre| - width / 2 + l)``; Y alike, both: the mean.

    ``l`` is by how much a turning tool is touched late."""
    setup, late = file.setup, file.setup.lateness()
    groups: dict[str, list[float]] = {}
    for reading in file.readings:
        groups.setdefault(reading.face, []).append(reading.position_mm)
    axes = [a for a in "xy" if any(face[1] == a for face in groups)] or ["x"]
    for axis in axes:
        name = f"setter_width{_END[axis]}_mm"
        require(getattr(setup, name), f"setup.{name}")
    if not groups:
        raise TooFewReadingsError("No touch was taken yet.")
    if setup.limit_mm is not None:
        require(setup.expected_mm, "setup.expected_mm")
    along = by_axis(groups)
    touch = scatter_by_axis(along, **setup.history(), extra_s=late.touch_s)
    influences = Influences()
    means = enter_by_axis(along, touch, influences)
    beyond = enter_late(late, influences)  # the same edges meet every face
    widths = _widths(setup, influences, axes)
    across = [_across(axis, means, widths[axis], beyond, setup, influences) for axis in axes]
    estimate = influences.estimate(sum(across) / len(across))
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    facts = {"d": estimate.value, "U": estimate.expanded, "limit": setup.limit_mm or 0.0}
    found = "found"
    if setup.expected_mm is not None:
        facts["change"], found = estimate.value - setup.expected_mm, "change"
        if setup.limit_mm is not None:
            checks = (check_limit("Change against the table", facts["change"], setup.limit_mm, rule, estimate),)
    verdict = checks[0].verdict if checks else Verdict.NONE
    return Evaluation(
        file.procedure,
        (Quantity.of("diameter_mm", "Diameter", estimate),),
        rule,
        said(f"{found}-{verdict}", **facts),
        said(str(verdict)),
        checks,
        touch.flags,
    )
