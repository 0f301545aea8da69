"""The range of several means: larger than the true range, by what each mean scatters.

Under equal heights the range of z means is d2(z) s / sqrt(n) on average (E. S. Pearson, Biometrika 24 (1932) 404-417). What
the true heights are is told from the means, drawn together by the share of their variance that is scatter (James & Stein,
1961); about these the order statistics are worked out on fixed normal numbers, so that one answer comes each time.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy import special

from nonna.metrology.fits import Floats

DRAWS = 4096
WORTH = 0.2  #: of its u: a smaller excess is not taken off


@dataclass(frozen=True, slots=True)
class TrueRange:
    """A range freed of what scatter adds to it, mm."""

    value: float
    u: float
    excess: float  #: what scatter adds on average


def true_range(means: Sequence[float], u: float) -> TrueRange:
    """Return the range of what these are means of.

    Parameters: means (z,), z >= 2, mm; u, standard uncertainty of each from its scatter (mm, above 0).
    Raises: ValueError (fewer than two, u not above 0).
    """
    if len(means) < 2 or not u > 0.0:
        raise ValueError("a range takes two means, and what they scatter")
    seen = np.asarray(means, dtype=float)
    seen = seen - seen.mean()
    variance = float(seen @ seen) / (seen.size - 1)
    drawn = seen * math.sqrt(max(0.0, 1.0 - u * u / variance)) if variance > 0.0 else np.zeros_like(seen)
    ranges = np.ptp(drawn + u * _normal(seen.size), axis=1)
    found, excess = float(np.ptp(seen)), float(ranges.mean() - np.ptp(drawn))
    doubt = float(ranges.std(ddof=1))
    if excess <= WORTH * doubt:
        return TrueRange(found, doubt, excess)
    return TrueRange(
        max(0.0, found - excess), math.hypot(doubt, excess), excess
    )  # the excess is as doubtful as it is large


@lru_cache(maxsize=32)
def _normal(count: int) -> Floats:
    """Return (DRAWS, count) normal numbers, evenly spread in each column, the columns in an order of their own."""
    even = special.ndtri((np.arange(DRAWS) + 0.5) / DRAWS)
    dice = np.random.default_rng(count)
    columns: Floats = np.column_stack([dice.permutation(even) for _ in range(count)])
    columns.setflags(write=False)
    return columns
