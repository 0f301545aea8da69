"""How much one touch scatters: pooled within groups, or from history and tested against it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.errors import NoRepeatabilityError
from nonna.metrology.doubt.quantiles import student_t, variance_ratio

HISTORY_TEST_P = 0.99
ROOT_12 = math.sqrt(12.0)  #: a rectangle's width over this is its standard deviation
ROUNDING = 64.0 * float(np.finfo(float).eps)  #: of a fit's readings, as a share of their size


@dataclass(frozen=True, slots=True)
class Pooled:
    """Variance of one touch, pooled within groups."""

    variance: float
    dof: int  #: readings minus groups


@dataclass(frozen=True, slots=True)
class TouchScatter:
    """What is believed about the scatter of a single touch.

    ``mean_u(n)`` is the standard uncertainty of a mean of n touches at one spot.
    """

    s: float  #: standard deviation of one touch, mm
    dof: float
    rounding: float  #: resolution/√12, mm
    from_history: bool
    above_history: bool  #: the readings at hand scatter more than the history allows

    def reading_u(self) -> tuple[float, float]:
        """Return the standard uncertainty of one reading of a fit, each elsewhere, and its degrees of freedom."""
        return (self.s, self.dof) if self.from_history else self.mean_u(1)

    def mean_u(self, n: int) -> tuple[float, float]:
        """Return the standard uncertainty of a mean of n touches and its degrees of freedom.

        Whichever of scatter and resolution gives the larger ``k u`` is taken; with one degree of
        freedom the larger variance, and the one degree stays. Of a history the larger variance: it holds the display
        of one touch, and repeats do not average a coarse display away (JCGM 100 F.2.2.1).
        """
        scatter = self.s / math.sqrt(n)
        if self.from_history:
            return (scatter, self.dof) if scatter >= self.rounding else (self.rounding, math.inf)
        if self.rounding == 0.0:
            return scatter, self.dof
        if self.dof == 1:
            return max(scatter, self.rounding), 1
        by_scatter = student_t(0.975, self.dof) * scatter
        by_rounding = student_t(0.975, math.inf) * self.rounding
        return (scatter, self.dof) if by_scatter >= by_rounding else (self.rounding, math.inf)


def pooled(groups: Sequence[ArrayLike]) -> Pooled:
    """Pool the variance of readings within groups (faces, ends, sides): one s² for all.

    Parameters: groups, each (n_i,) in mm. Source: any text on one-way analysis of variance.
    Equal readings give exactly zero: the rounding of a mean is not scatter.
    """
    total, dof = 0.0, 0
    for group in groups:
        values = np.asarray(group, dtype=float).tolist()  # a handful: plain numbers are quicker
        if not values:
            continue
        dof += len(values) - 1
        if max(values) > min(values):
            mean = math.fsum(values) / len(values)
            total += sum((value - mean) * (value - mean) for value in values)
    return Pooled(total / dof if dof else 0.0, dof)


def touch_scatter(
    groups: Sequence[ArrayLike],
    *,
    history: float = 0.0,
    history_dof: float = math.inf,
    resolution: float = 0.0,
    extra_s: float = 0.0,
) -> TouchScatter:
    """Decide what the scatter of one touch is, from readings in groups (parameters and errors as `touch_from`)."""
    return touch_from(
        pooled(groups),
        history=history,
        history_dof=history_dof,
        resolution=resolution,
        extra_s=extra_s,
    )


def touch_from(
    here: Pooled,
    *,
    history: float = 0.0,
    history_dof: float = math.inf,
    resolution: float = 0.0,
    extra_s: float = 0.0,
) -> TouchScatter:
    """Decide what the scatter of one touch is.

    Parameters: here, the scatter of the readings at hand (pooled, or a fit's residuals); history, standard
    deviation of one touch known beforehand (mm, 0 = none), with its dof; resolution (mm, 0 = not given);
    extra_s (mm), a standard deviation that the touches at hand have and the history had not, such as feed/√12.
    Raises: NoRepeatabilityError (no history and either no degrees of freedom, or readings without any
    scatter and no resolution).
    """
    if history > 0.0:
        known = math.hypot(history, extra_s)  # compared as deviations: the square of a tiny one would underflow
        bound = math.sqrt(variance_ratio(HISTORY_TEST_P, here.dof, history_dof)) * known if here.dof > 0 else math.inf
        above = math.sqrt(here.variance) > bound
        return TouchScatter(known, history_dof, resolution / ROOT_12, from_history=True, above_history=above)
    if here.dof < 1 or (here.variance == 0.0 and resolution == 0.0):
        raise NoRepeatabilityError()
    return TouchScatter(
        math.sqrt(here.variance), here.dof, resolution / ROOT_12, from_history=False, above_history=False
    )


@dataclass(frozen=True, slots=True)
class AxisScatter:
    """What is believed about the scatter of a touch along each axis."""

    by_axis: Mapping[str, TouchScatter]
    borrowed: tuple[str, ...] = ()  #: axes without degrees of freedom of their own, on the pooled scatter of all

    @property
    def above_history(self) -> bool:
        """Whether the touches of any axis scatter more than the history allows."""
        return any(touch.above_history for touch in self.by_axis.values())

    @property
    def flags(self) -> tuple[str, ...]:
        """What has to be said of the scatter."""
        above = ("scatter-above-history",) if self.above_history else ()
        return (*above, *(("scatter-borrowed",) if self.borrowed else ()))


def scatter_by_axis(
    groups: Mapping[str, Mapping[str, Sequence[float]]],
    *,
    history: float = 0.0,
    history_dof: float = math.inf,
    resolution: float = 0.0,
    extra_s: float = 0.0,
) -> AxisScatter:
    """Decide what the scatter of one touch is along each axis: scatter in Z says nothing of X.

    Parameters: groups, by axis the readings by name (mm), none empty; the rest as `touch_from`. An axis whose readings
    leave no degrees of freedom borrows the pooled scatter of all. Raises: NoRepeatabilityError, as `touch_from`.
    """
    own = {axis: pooled(list(rows.values())) for axis, rows in groups.items()}
    poor = tuple(axis for axis, here in own.items() if here.dof < 1) if history <= 0.0 else ()
    whole = pooled([values for rows in groups.values() for values in rows.values()])
    found = {
        axis: touch_from(
            whole if axis in poor else here,
            history=history,
            history_dof=history_dof,
            resolution=resolution,
            extra_s=extra_s,
        )
        for axis, here in own.items()
    }
    return AxisScatter(found, poor if len(own) > 1 else ())


def fit_scatter(residuals: ArrayLike, dof: int, reach: float) -> Pooled:
    """Return the scatter that a fit's residuals (n,) show.

    Parameters: dof, readings minus what was fitted; reach, the largest size of the fitted readings (mm):
    residuals within its rounding count as none.
    """
    left = np.asarray(residuals, dtype=float)
    if dof < 1 or float(np.abs(left).max(initial=0.0)) <= ROUNDING * reach:
        return Pooled(0.0, max(dof, 0))
    return Pooled(float(left @ left) / dof, dof)
