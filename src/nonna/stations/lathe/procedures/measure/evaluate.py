"""A part measured by the turret probe: diameter, distance, groove, rib; and what the wear column should be."""

from __future__ import annotations

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.uncertain import Estimate, Influences
from nonna.metrology.drifting.wear_process import LEAST_PARTS, NextWear, Part, next_by_process, next_wear
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.axes import across, carried_value, enter_shown
from nonna.stations.lathe.procedures.measure.model import PartReadings, PartSetup

said = saying("lathe-measure")

STOP_MM = 0.3  #: an error that no wear makes from one part to the next, where no tolerance says so


def _next_wear(setup: PartSetup, error: Estimate, factor: float) -> NextWear:
    """Return the wear for the next part: from this part alone, or from all parts since the process began.

    Without a stop it is the tolerance's width, without a step limit a third of it; without a tolerance what no edge
    wears by from part to part.
    """
    width = None
    if setup.lower_mm is not None and setup.upper_mm is not None:
        width = setup.upper_mm - setup.lower_mm
    stop = setup.stop_mm if setup.stop_mm is not None else width if width else STOP_MM
    limit = setup.step_limit_mm if setup.step_limit_mm is not None else width / 3.0 if width else STOP_MM / 3.0
    old = setup.wear_mm or 0.0
    if not setup.earlier:
        return next_wear(old, error.value, error.expanded, factor, gain=setup.gain, step_limit=limit, stop=stop)
    parts = [Part(each.error_mm, each.u_mm, 2.0 * factor * each.wear_mm) for each in setup.earlier]
    parts.append(Part(error.value, error.u, 2.0 * factor * old))
    return next_by_process(parts, old, factor, gain=setup.gain, step_limit=limit, stop=stop)


def _check(setup: PartSetup) -> None:
    """Raises: NonnaError (a field that this feature needs is missing, or one that it has no use for decides
    something).
    """
    if setup.feature == "diameter":
        if setup.side is None:
            raise NonnaError("missing-field", "setup.side: this is missing.", "setup.side")
    elif setup.wear_mm is not None:
        raise NonnaError("out-of-range", "setup.wear_mm: wear is corrected by diameters only.", "setup.wear_mm")
    for one, other in (("lower_mm", "upper_mm"), ("upper_mm", "lower_mm")):
        if getattr(setup, one) is not None:
            require(getattr(setup, other), f"setup.{other}")
    if setup.lower_mm is not None and setup.upper_mm is not None and setup.lower_mm > setup.upper_mm:
        raise NonnaError("out-of-range", "setup.lower_mm: the lower limit is above the upper one.", "setup.lower_mm")


def evaluate(file: PartReadings) -> Evaluation:
    """Internal diameter and groove ``A + ball``, external and rib ``A - ball``, distance ``A``; ``error = size -
    nominal``.
    """
    setup, rule = file.setup, file.rule.rule()
    _check(setup)
    setup.must_reach()
    sides = {at: [r.position_mm for r in file.readings if r.at == at] for at in ("+", "-")}
    sides = {at: values for at, values in sides.items() if values}
    if not sides:
        raise TooFewReadingsError("Nothing was touched yet.")
    if len(sides) == 1 and setup.feature != "diameter":
        raise TooFewReadingsError("Both faces are needed.")
    if len(sides) == 1:
        require(setup.centre_mm, "setup.centre_mm")
    axis = setup.axis or ("x" if setup.feature == "diameter" else "z")
    influences = Influences()
    shown = enter_shown({axis: sides}, setup.x_shows, setup, influences)
    centre = None if len(sides) == 2 else carried_value(setup, influences, "centre", "spindle's centre")
    wide = across(axis, setup.x_shows, shown.means.get("+"), shown.means.get("-"), centre)
    if setup.feature != "distance":
        ball = carried_value(setup, influences, "ball_diameter", "effective ball")
        wide = wide + ball if setup.side == "internal" or setup.feature == "groove" else wide - ball
    size, error = influences.estimate(wide), influences.estimate(wide - setup.nominal_mm)
    quantities = [Quantity.of("size_mm", "Size", size), Quantity.of("error_mm", "Error", error)]
    checks: tuple[Check, ...] = ()
    if setup.lower_mm is not None and setup.upper_mm is not None:
        middle, half = (setup.lower_mm + setup.upper_mm) / 2.0, (setup.upper_mm - setup.lower_mm) / 2.0
        # guarded on each side: the same as the distance from the middle against half the tolerance
        checks = (check_limit("Error from the middle", error.value - middle, half, rule, error, of="error_mm"),)
    flags, extras, advice = shown.flags, {}, []
    if setup.wear_mm is not None:
        found = _next_wear(setup, error, real_per_shown(axis, setup.x_shows))
        quantities.append(
            Quantity("new_wear_mm", f"Wear for the next part, {as_shown(axis, setup.x_shows)}", found.wear)
        )
        flags = (*flags, *(("step-limited",) if found.limited else ()))
        extras["state"] = found.state
        count = len(setup.earlier) + 1
        code: str = found.state
        if count > 1 and code in ("leave", "correct"):
            code = "early" if count < LEAST_PARTS else f"process-{code}"
        advice.append(said(code, old=setup.wear_mm, new=found.wear, parts=count, least=LEAST_PARTS))
    verdict = checks[0].verdict if checks else "none"
    headline = said(f"found-{verdict}", size=size.value, U=size.expanded, error=error.value)
    return Evaluation(
        file.procedure, tuple(quantities), rule, headline, said(str(verdict)), checks, flags, tuple(advice), extras
    )
