"""How far two ways of measuring the same tools are apart, and what one more tool corrected by it is good for."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.errors import DegenerateGeometryError, TooFewReadingsError
from nonna.metrology.doubt.quantiles import two_sided_p
from nonna.metrology.doubt.scatter import Pooled, fit_scatter

LEAST_OFFSET, LEAST_LINE = 3, 4  #: tools


@dataclass(frozen=True, slots=True, eq=False)
class Transfer:
    """Differences of n tools, as one offset or as a line over their length."""

    mean: float  #: of the differences: the offset at the mean length, mm
    pivot: float  #: mean length, mm
    scatter: Pooled  #: of the differences about the model
    reach: float  #: what the doubt of the mean is multiplied by, squared, for the tool farthest out (0 for an offset)
    slope: float  #: of the differences over the length, 0 where all lengths are one
    slope_u: float
    slope_p: float  #: probability of a slope this steep by chance alone (two-sided t), 1 where there is none


def fit_transfer(lengths_mm: ArrayLike, differences_mm: ArrayLike, *, line: bool) -> Transfer:
    """Fit differences (n,) over lengths (n,).

    Parameters: line, whether a slope is part of the model. Raises: TooFewReadingsError (n < 3, or 4 for a line),
    DegenerateGeometryError (a line over tools of one length).
    Source: Draper & Smith, Applied Regression Analysis, 3rd ed., ch. 1 (prediction of one more).
    """
    x, d = np.asarray(lengths_mm, dtype=float), np.asarray(differences_mm, dtype=float)
    least = LEAST_LINE if line else LEAST_OFFSET
    if x.size < least:
        raise TooFewReadingsError("At least {least} tools on both; so far {size}.", least=least, size=x.size)
    far = x - x.mean()
    s_xx = float(far @ far)
    size = float(np.abs(d).max())
    spread = float(np.ptp(x)) > 0.0
    if line and not spread:
        raise DegenerateGeometryError(
            "All these tools are equally long: that tells nothing about longer or shorter ones."
        )
    centred = d - d.mean() if np.ptp(d) > 0.0 else np.zeros_like(d)
    slope = float(far @ centred) / s_xx if spread else 0.0
    about_line = fit_scatter(centred - slope * far, x.size - 2, size)
    slope_u = math.sqrt(about_line.variance / s_xx) if spread else 0.0
    if slope_u > 0.0:
        p = two_sided_p(slope / slope_u, x.size - 2)
    else:
        p = 0.0 if abs(slope) * float(np.abs(far).max()) > 1e-12 * size else 1.0
    return Transfer(
        mean=float(d.mean()),
        pivot=float(x.mean()),
        scatter=about_line if line else fit_scatter(centred, x.size - 1, size),
        reach=float((far * far).max()) / s_xx if line else 0.0,
        slope=slope,
        slope_u=slope_u,
        slope_p=p,
    )
