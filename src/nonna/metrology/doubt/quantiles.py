"""Quantiles of the four distributions the decisions rest on.

Only scipy.special is used: scipy.stats takes longer to import than a whole evaluation takes.
"""

from __future__ import annotations

import math
from functools import lru_cache

from scipy import special


@lru_cache(maxsize=4096)
def student_t(p: float, dof: float) -> float:
    """Return the p-quantile of Student's t; the normal quantile for infinite dof.

    Raises: ValueError (dof not positive, p outside (0, 1)).
    """
    _check(p, dof)
    if math.isinf(dof):
        return float(special.ndtri(p))
    return float(special.stdtrit(dof, p))


@lru_cache(maxsize=1024)
def variance_ratio(p: float, dof: float, dof_reference: float) -> float:
    """Return the p-quantile of s²/σ²: F, or chi-square/ν where the reference's dof is infinite.

    Raises: ValueError (dof not positive, p outside (0, 1)).
    """
    _check(p, dof)
    _check(p, dof_reference)
    if math.isinf(dof_reference):
        return float(special.chdtri(dof, 1.0 - p)) / dof
    return float(special.fdtri(dof, dof_reference, p))


@lru_cache(maxsize=1024)
def chi_square(p: float, dof: float) -> float:
    """Return the p-quantile of chi-square. Raises: ValueError as above."""
    _check(p, dof)
    return float(special.chdtri(dof, 1.0 - p))


def two_sided_p(t: float, dof: float) -> float:
    """Return the probability of a Student t at least as large as |t|, either way."""
    return 2.0 * float(special.stdtr(dof, -abs(t)))


def _check(p: float, dof: float) -> None:
    if not 0.0 < p < 1.0:
        raise ValueError(f"p must lie between 0 and 1, not {p!r}")
    if not dof > 0.0:
        raise ValueError(f"degrees of freedom must be positive, not {dof!r}")
