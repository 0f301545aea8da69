"""A tolerance between false alarms and missed breaks."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy import special

from nonna.metrology.lazy_scipy import optimize

ROUNDING, BRACKET = 1e-15, 1e-6


@dataclass(frozen=True, slots=True)
class Threshold:
    """An advised tolerance with the risks it really has."""

    tolerance: float
    false_alarm: float
    missed: float
    possible: bool  #: whether any tolerance meets both wanted risks
    least: float  #: least tolerance that meets the false alarms
    most: float  #: largest that meets the missed breaks


def false_alarm(tolerance: float, sigma: float, drift: float) -> float:
    """Return P(\\|N(drift, sigma)\\| > tolerance): a good tool called bad."""
    return float(special.ndtr((drift - tolerance) / sigma) + special.ndtr((-drift - tolerance) / sigma))


def missed(tolerance: float, sigma: float, drift: float, size: float) -> float:
    """Return P(N(-size + drift, sigma) > -tolerance): a break of that size not seen."""
    return float(special.ndtr((tolerance - size + drift) / sigma))


def design(sigma: float, drift: float, size: float, wanted_false: float, wanted_missed: float) -> Threshold:
    """Find the tolerances that meet both wanted risks and advise the middle of them.

    Parameters: sigma, scatter of one check (mm, > 0); drift, a possible shift either way (mm, >= 0); size, the
    smallest break to be seen (mm, > 0); wanted probabilities between 0 and 1. Where no tolerance meets both,
    the least that meets the false alarms is given. Source: J. Neyman and E. S. Pearson, Phil. Trans. A 231
    (1933) 289-337, for a normal scatter.
    """

    def too_many(beyond: float) -> float:  # in sigmas beyond the drift: no size of sigma or drift is too odd for that
        return float(special.ndtr(-beyond) + special.ndtr(-beyond - 2.0 * drift / sigma)) - wanted_false

    # The far side adds between nothing and as much again; a little air, for the ends themselves are rounded.
    low, high = -float(special.ndtri(wanted_false)) - BRACKET, -float(special.ndtri(wanted_false / 2.0)) + BRACKET
    least = max(0.0, drift + sigma * float(optimize().brentq(too_many, low, high, xtol=ROUNDING)))
    while false_alarm(least, sigma, drift) > wanted_false:  # on the side that meets the risk
        least = max(least * (1.0 + ROUNDING), math.nextafter(least, math.inf))
    most = size - drift + sigma * float(special.ndtri(wanted_missed))
    possible = least <= most
    tolerance = (least + most) / 2.0 if possible else least
    return Threshold(
        tolerance, false_alarm(tolerance, sigma, drift), missed(tolerance, sigma, drift, size), possible, least, most
    )
