"""Offset and scale of one axis from one or two masters, with the pivot where their doubts are independent."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.errors import DegenerateGeometryError
from nonna.metrology.doubt.uncertain import Influences, Uncertain, value_of

LEAST_APART_MM = 1.0  #: between two masters that shall tell a scale


@dataclass(frozen=True, slots=True)
class AxisLine:
    """What an axis shows is put right by ``true = shown + offset + scale (shown - pivot)``."""

    pivot: float  #: where offset and scale are uncorrelated, mm as shown
    offset: Uncertain  #: mm, at the pivot
    scale: Uncertain  #: as a ratio, 0 for a perfect one

    def error(self, shown: Uncertain, true: Uncertain) -> Uncertain:
        """Return what is wrong with a shown value after it was put right, mm."""
        return shown + self.offset + self.scale * (float(value_of(shown)) - self.pivot) - true


def line_through(
    influences: Influences, shown: tuple[Uncertain, Uncertain], true: tuple[Uncertain, Uncertain]
) -> AxisLine:
    """Return the line through two masters.

    Parameters: shown, mean readings of the two, and true, what they are at temperature (both mm, uncertain).
    Raises: DegenerateGeometryError (less than 1 mm apart).
    Notes: y_j = T_j - r_j with variances v_j and covariance c (the temperature is one influence of both). Offset at
    p and scale are uncorrelated at p = (r_1 (v_2 - c) + r_2 (v_1 - c)) / (v_1 + v_2 - 2 c): put the offset
    (1 - t) y_1 + t y_2, t = (p - r_1) / (r_2 - r_1), and the scale (y_2 - y_1) / (r_2 - r_1) into their covariance.
    """
    low, high = float(value_of(shown[0])), float(value_of(shown[1]))
    apart = min(abs(high - low), abs(float(value_of(true[1])) - float(value_of(true[0]))))
    if apart < LEAST_APART_MM:
        raise DegenerateGeometryError(
            (
                "The two masters are {apart:.3f} mm apart: too little to tell a scale. Take one at least 1 mm "
                "longer or wider."
            ),
            apart=apart,
        )
    y_low, y_high = true[0] - shown[0], true[1] - shown[1]
    v_low, v_high = influences.covariance(y_low, y_low), influences.covariance(y_high, y_high)
    shared = influences.covariance(y_low, y_high)
    weight = v_low + v_high - 2.0 * shared
    pivot = (low * (v_high - shared) + high * (v_low - shared)) / weight if weight > 0.0 else (low + high) / 2.0
    scale = (y_high - y_low) / (high - low)
    return AxisLine(pivot, y_low + scale * (pivot - low), scale)
