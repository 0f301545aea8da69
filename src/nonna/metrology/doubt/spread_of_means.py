"""The range of several means: larger than the true range, by what each mean scatters.

Under equal heights the range of z means is d2(z) s / sqrt(n) on average (E. S. Pearson, Biometrika 24 (1932) 404-417).
What the true heights are is told from the means, drawn together by the share of their variance that is scatter (James &
Stein, 1961); about these the order statistics are worked out on fixed normal numbers, so that one answer comes each
time.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy import special

from nonna.metrology.doubt.fits import Floats
from nonna.metrology.doubt.quantiles import student_t

DRAWS = 4096
WORTH = 0.2  #: of its u: a smaller excess is not taken off
NORMAL_K = 1.96  #: of an interval that holds 95 %, the least there is
APART = 3.0  #: means so many u from their next neighbour are no scatter of one height; each group is drawn together
EQUAL = 0.975  #: share of the ranges of equal heights that are taken for those of equal heights


@dataclass(frozen=True, slots=True)
class TrueRange:
    """A range freed of what scatter adds to it, mm."""

    value: float
    u: float
    excess: float  #: what scatter adds on average


def true_range(means: Sequence[float], u: float, dof: float = math.inf) -> TrueRange:
    """Return the range of what these are means of.

    Parameters: means (z,), z >= 2, mm; u, standard uncertainty of each from its scatter (mm, above 0), with its dof.
    Raises: ValueError (fewer than two, u not above 0).
    """
    if len(means) < 2 or not u > 0.0:
        raise ValueError("a range takes two means, and what they scatter")
    seen = np.sort(np.asarray(means, dtype=float))
    seen = seen - seen.mean()
    drawn = np.concatenate(
        [_drawn(group, u) for group in np.split(seen, np.flatnonzero(np.diff(seen) > APART * u) + 1)]
    )
    noise = u * _normal(seen.size)
    ranges = np.ptp(drawn + noise, axis=1)
    found, excess = float(np.ptp(seen)), float(ranges.mean() - np.ptp(drawn))
    # Nobody knows how much of what is seen is scatter: the doubt is the larger of both.
    doubt = max(float(ranges.std(ddof=1)), float(np.ptp(seen + noise, axis=1).std(ddof=1)))
    if excess <= WORTH * doubt:
        return TrueRange(found, doubt, excess)
    value = max(0.0, found - excess)
    wide = math.hypot(doubt, excess)  # the excess is as doubtful as it is large
    if found <= u * _equal(seen.size) * student_t(0.975, dof) / NORMAL_K:
        wide = max(wide, value / NORMAL_K)  # heights may be equal: then U reaches down to no range at all
    return TrueRange(value, wide, excess)


def _drawn(group: Floats, u: float) -> Floats:
    """Return means of one group (k,) drawn together by the share of their variance that is scatter."""
    middle = group.mean()
    rest = group - middle
    variance = float(rest @ rest) / max(group.size - 1, 1)
    share = math.sqrt(max(0.0, 1.0 - u * u / variance)) if variance > 0.0 else 0.0
    drawn: Floats = middle + share * rest if group.size > 1 else group
    return drawn


@lru_cache(maxsize=32)
def _equal(count: int) -> float:
    """Return the range, in u, that so many equal heights are seen within by chance."""
    return float(np.quantile(np.ptp(_normal(count), axis=1), EQUAL))


@lru_cache(maxsize=32)
def _normal(count: int) -> Floats:
    """Return (DRAWS, count) normal numbers, evenly spread in each column, the columns in an order of their own."""
    even = special.ndtri((np.arange(DRAWS) + 0.5) / DRAWS)
    dice = np.random.default_rng(count)
    columns: Floats = np.column_stack([dice.permutation(even) for _ in range(count)])
    columns.setflags(write=False)
    return columns
