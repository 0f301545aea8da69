"""How much one touch scatters: pooled within groups, or from history and tested against it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.metrology.errors import NoRepeatabilityError
from nonna.metrology.quantiles import student_t, variance_ratio

HISTORY_TEST_P = 0.99
ROUNDING = 64.0 * float(np.finfo(float).eps)  #: of a fit's readings, as a share of their size


@dataclass(frozen=True, slots=True)
class Pooled:
    """Variance of one touch, pooled within groups."""

    variance: float
    dof: int  #: readings minus groups


@dataclass(frozen=True, slots=True)
class Touch:
    """What is believed about the scatter of a single touch.

    ``variance_mean(n)`` is what enters the variance of a mean of n touches at one spot.
    """

    variance: float  #: of one touch, mm²
    dof: float
    resolution_variance: float  #: resolution²/12, mm²; zero when history already holds it
    from_history: bool
    above_history: bool  #: the readings at hand scatter more than the history allows

    @property
    def s(self) -> float:
        """Standard deviation of one touch."""
        return math.sqrt(self.variance)

    def variance_mean(self, n: int) -> tuple[float, float]:
        """Return the variance of a mean of n touches and its degrees of freedom.

        Whichever of scatter and resolution gives the larger ``k u`` is taken; with one degree of
        freedom the larger variance, and the one degree stays.
        """
        scatter = self.variance / n
        rounding = self.resolution_variance
        if rounding == 0.0:
            return scatter, self.dof
        if self.dof == 1:
            return max(scatter, rounding), 1
        by_scatter = student_t(0.975, self.dof) * math.sqrt(scatter)
        by_rounding = student_t(0.975, math.inf) * math.sqrt(rounding)
        return (scatter, self.dof) if by_scatter >= by_rounding else (rounding, math.inf)


def pooled(groups: Sequence[ArrayLike]) -> Pooled:
    """Pool the variance of readings within groups (faces, ends, sides): one s² for all.

    Parameters: groups, each (n_i,) in mm. Source: any text on one-way analysis of variance.
    Equal readings give exactly zero: the rounding of a mean is not scatter.
    """
    total, dof = 0.0, 0
    for group in groups:
        values = np.asarray(group, dtype=float)
        if values.size == 0:
            continue
        dof += values.size - 1
        if values.size > 1 and np.ptp(values) > 0.0:
            deviations = values - values.mean()
            total += float(deviations @ deviations)
    return Pooled(total / dof if dof else 0.0, dof)


def touch_scatter(
    groups: Sequence[ArrayLike],
    *,
    history: float = 0.0,
    history_dof: float = math.inf,
    resolution: float = 0.0,
    extra_history_variance: float = 0.0,
) -> Touch:
    """Decide what the scatter of one touch is, from readings in groups (parameters and errors as `touch_from`)."""
    return touch_from(
        pooled(groups),
        history=history,
        history_dof=history_dof,
        resolution=resolution,
        extra_history_variance=extra_history_variance,
    )


def touch_from(
    here: Pooled,
    *,
    history: float = 0.0,
    history_dof: float = math.inf,
    resolution: float = 0.0,
    extra_history_variance: float = 0.0,
) -> Touch:
    """Decide what the scatter of one touch is.

    Parameters: here, the scatter of the readings at hand (pooled, or a fit's residuals); history, standard
    deviation of one touch known beforehand (mm, 0 = none), with its dof; resolution (mm, 0 = not given);
    extra_history_variance (mm²), what the touches at hand have and the history had not, such as feed²/12.
    Raises: NoRepeatabilityError (no history and either no degrees of freedom, or readings without any
    scatter and no resolution).
    """
    if history > 0.0:
        variance = history**2 + extra_history_variance
        above = here.dof > 0 and here.variance / variance > variance_ratio(HISTORY_TEST_P, here.dof, history_dof)
        return Touch(variance, history_dof, 0.0, from_history=True, above_history=above)
    if here.dof < 1 or (here.variance == 0.0 and resolution == 0.0):
        raise NoRepeatabilityError()
    return Touch(here.variance, here.dof, resolution**2 / 12.0, from_history=False, above_history=False)


def fit_scatter(residuals: ArrayLike, dof: int, reach: float) -> Pooled:
    """Return the scatter that a fit's residuals (n,) show.

    Parameters: dof, readings minus what was fitted; reach, the largest size of the fitted readings (mm):
    residuals within its rounding count as none.
    """
    left = np.asarray(residuals, dtype=float)
    if dof < 1 or float(np.abs(left).max(initial=0.0)) <= ROUNDING * reach:
        return Pooled(0.0, max(dof, 0))
    return Pooled(float(left @ left) / dof, dof)
