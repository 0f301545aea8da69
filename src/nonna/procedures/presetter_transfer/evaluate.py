"""Presetter transfer: the same tools on the presetter and on a machine, and what one more is then good for."""

from __future__ import annotations

import math

from nonna.errors import NonnaError
from nonna.metrology.doubt.quantiles import student_t
from nonna.metrology.doubt.scatter import touch_from
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.transfer import fit_transfer
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.presetter_transfer.model import TransferReadings
from nonna.procedures.telling import saying

said = saying("presetter-transfer")

TREND_P = 0.05


def _trend(slope: float, u: float, dof: int) -> Quantity:
    """Return the slope in ppm, with the doubt its own residuals give."""
    if u <= 0.0:
        return Quantity("trend_ppm", "Trend with the length", slope * PPM, "ppm")
    influences = Influences()
    try:
        estimate = influences.estimate(influences.add("scatter of the tools", slope * PPM, u * PPM, dof))
    except NonnaError:  # a doubt so small that it vanishes
        return Quantity("trend_ppm", "Trend with the length", slope * PPM, "ppm")
    return Quantity.of("trend_ppm", "Trend with the length", estimate, "ppm")


def evaluate(file: TransferReadings) -> Evaluation:
    """``transfer = mean (machine - presetter)``, or a line over the length."""
    setup, line = file.setup, file.setup.model == "line"
    found = fit_transfer(
        [r.presetter_mm for r in file.readings],
        [r.machine_mm - r.presetter_mm for r in file.readings],
        line=line,
    )
    touch = touch_from(found.scatter, **setup.history())
    n = len(file.readings)
    u, dof = touch.mean_u(n)
    influences = Influences()
    transfer = influences.estimate(influences.add("scatter of the tools", found.mean, u, dof))
    one_u, one_dof = touch.reading_u()
    corrected = student_t(0.975, one_dof) * one_u * math.sqrt(1.0 + 1.0 / n + found.reach)
    trend = _trend(found.slope, found.slope_u, n - 2)
    quantities = (
        Quantity.of("transfer_mm", "Machine less presetter", transfer),
        Quantity("spread_mm", "Scatter of the tools", touch.s),
        trend,
        Quantity("trend_p", "By chance alone", found.slope_p, "1"),
        Quantity("corrected_U_mm", "One more tool, corrected", corrected),
        *((Quantity("pivot_mm", "At the length", found.pivot),) if line else ()),
    )
    checks: tuple[Check, ...] = ()
    if setup.limit_mm is not None:
        checks = (check_limit("One more tool", corrected, setup.limit_mm, file.rule.rule(), of="corrected_U_mm"),)
    grows = not line and found.slope_p < TREND_P
    flags = (
        *(("scatter-above-history",) if touch.above_history else ()),
        *(("trend-with-length",) if grows else ()),
    )
    advice = [said("line" if line else "trend", slope=trend.value)] if line or grows else []
    verdict = checks[0].verdict if checks else "none"
    return Evaluation(
        file.procedure, quantities, file.rule.rule(), said("found", transfer=transfer.value, U=corrected),
        said(str(verdict)), checks, flags, tuple(advice),
    )  # fmt: skip
