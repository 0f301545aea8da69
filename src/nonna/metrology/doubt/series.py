"""A series of readings at one spot: line through it, and readings that do not belong."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.quantiles import student_t, two_sided_p


@dataclass(frozen=True, slots=True)
class Trend:
    """Straight line through n readings taken one after another."""

    per_touch: float
    s_xx: float  #: sum of squared distances of the touch numbers from their mean
    residual_variance: float
    dof: int  #: n - 2

    @property
    def u(self) -> float:
        """Standard uncertainty of the slope, from its own residuals."""
        return math.sqrt(self.residual_variance / self.s_xx)

    @property
    def p(self) -> float:
        """Probability of a slope this steep by chance alone (two-sided t)."""
        if self.u == 0.0:
            return 1.0 if self.per_touch == 0.0 else 0.0
        return two_sided_p(self.per_touch / self.u, self.dof)


def fit_trend(readings: ArrayLike) -> Trend:
    """Fit a straight line to readings (n,) against their number.

    Raises: TooFewReadingsError (n < 3). Source: Draper & Smith, Applied Regression Analysis, 3rd ed., ch. 1.
    """
    y = np.asarray(readings, dtype=float)
    if y.size < 3:
        raise TooFewReadingsError("A line needs at least 3 readings, not {size}.", size=y.size)
    x = np.arange(y.size) - (y.size - 1) / 2.0
    s_xx = float(x @ x)
    centred = y - y.mean() if np.ptp(y) > 0.0 else np.zeros_like(y)
    slope = float(x @ centred) / s_xx
    residuals = centred - slope * x
    return Trend(slope, s_xx, float(residuals @ residuals) / (y.size - 2), y.size - 2)


def grubbs_outliers(readings: ArrayLike, alpha: float = 0.05) -> tuple[int, ...]:
    """Name the readings that do not belong, by the two-sided Grubbs test repeated until none is found.

    Returns positions in the order they were found; nothing is dropped from the caller's data.
    Source: F. E. Grubbs, Technometrics 11 (1969) 1-21.
    """
    y = np.asarray(readings, dtype=float)
    kept = list(range(y.size))
    found: list[int] = []
    while len(kept) >= 3:
        values = y[kept]
        n = values.size
        s = float(values.std(ddof=1))
        if np.ptp(values) == 0.0 or s == 0.0:
            break
        distance = np.abs(values - values.mean())
        at = int(distance.argmax())
        t2 = student_t(1.0 - alpha / (2.0 * n), n - 2) ** 2
        critical = (n - 1) / math.sqrt(n) * math.sqrt(t2 / (n - 2 + t2))
        if distance[at] / s <= critical:
            break
        found.append(kept.pop(at))
    return tuple(found)
