"""Chuck run-out: a part or bar probed at angles of the chuck, or the second side against the first."""

from __future__ import annotations

import numpy as np

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.fits import fit_harmonics, oval_seen
from nonna.metrology.doubt.scatter import touch_from
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.shown import real_per_shown
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout.evaluate import harmonic_estimates
from nonna.stations.lathe.procedures.chuck.model import LEAST, TurnedReadings


def evaluate(file: TurnedReadings, oval_mm: float = 0.0) -> Evaluation:
    """First harmonic of ``f position`` over the chuck's angle; three angles leave no freedom: history is needed.

    Parameters: oval_mm, what jaws make of a part that says nothing of its form.
    """
    setup, said = file.setup, saying(file.procedure)
    if len(file.readings) < LEAST:
        raise TooFewReadingsError(
            "Chuck run-out needs at least {least} angles, not {count}.", least=LEAST, count=len(file.readings)
        )
    factor = real_per_shown("x", setup.x_shows)
    values = np.array([r.position_mm for r in file.readings]) * factor
    angles = np.radians([r.angle_deg for r in file.readings])
    fit = fit_harmonics(angles, values)
    oval = (oval_mm if setup.form_mm is None else setup.form_mm) / 2.0
    known = setup.history()
    known["resolution"] *= factor
    touch = touch_from(fit.scatter, **known)
    (eccentricity, high_spot, runout), near_zero = harmonic_estimates(fit, touch, 0.0, oval * oval_seen(angles))
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    if setup.limit_mm is not None:
        checks = (check_limit("Run-out", runout.value, setup.limit_mm, rule, runout, of="runout_mm"),)
    verdict = checks[0].verdict if checks else "none"
    facts = {"runout": runout.value, "U": runout.expanded, "limit": setup.limit_mm or 0.0, "high": high_spot.value}
    flags = (
        *(("scatter-above-history",) if touch.above_history else ()),
        *(("eccentricity-near-zero",) if near_zero else ()),
    )  # fmt: skip
    quantities = (
        Quantity.of("runout_mm", "Run-out", runout),
        Quantity.of("eccentricity_mm", "Eccentricity", eccentricity),
        Quantity.of("high_spot_deg", "High spot", high_spot, "deg"),
        Quantity("fim_mm", "Full swing", float(np.ptp(values))),
        Quantity("form_mm", "Form, what is left", fit.peak_to_valley),
    )
    return Evaluation(
        file.procedure,
        quantities,
        rule,
        said(f"found-{verdict}", **facts),
        said(str(verdict), **facts),
        checks,
        flags,
    )
