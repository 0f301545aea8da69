"""A row of pockets: the straight line they stand on, and the bent ones that must not bend it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.errors import DegenerateGeometryError, TooFewReadingsError
from nonna.metrology.doubt.fits import Floats
from nonna.metrology.doubt.quantiles import variance_ratio
from nonna.metrology.doubt.scatter import ROUNDING, Pooled, fit_scatter

LEAST, LEAST_KEPT = 3, 4  #: pockets in a row; pockets that stay when bent ones are looked for
KEPT_SHARE = 2.0 / 3.0
RISK = 0.01  #: of setting a sound pocket aside, over all pockets measured


@dataclass(frozen=True, slots=True, eq=False)
class PocketRow:
    """The row that the pockets not set aside stand on."""

    pitch: float  #: mm a pocket
    direction: float  #: of the row, rad from +X
    rise: float  #: mm a pocket
    along: Floats  #: (n,) mm off the line, in its direction; all pockets
    across: Floats  #: (n,) mm, positive to the left
    height: Floats  #: (n,) mm
    set_aside: tuple[int, ...]  #: positions of the bent ones, in the order they were found
    u_pitch: float
    u_direction: float  #: rad
    u_rise: float
    dof: int  #: of each: pockets kept less 2

    @property
    def off_line(self) -> Floats:
        """How far each pocket stands off the line in plan, mm."""
        return np.hypot(self.along, self.across)


def fit_row(
    numbers: Sequence[int], places: ArrayLike, repeatability: float = 0.0, resolution: float = 0.0
) -> PocketRow:
    """Fit a row of pockets by least squares, leaving the bent ones aside.

    Parameters: numbers (n,), the pockets'; places (n, 3), mm; repeatability and resolution of one touch (mm, 0: not
    known), the least scatter that is believed. Raises: TooFewReadingsError (n < 3), DegenerateGeometryError (all
    pockets at one place).
    """
    i, at = np.asarray(numbers, dtype=float), np.asarray(places, dtype=float)
    if i.size < LEAST:
        raise TooFewReadingsError(
            "A row takes at least {least} pockets; {size} measured so far.", least=LEAST, size=i.size
        )
    aside = bent(i, at, repeatability)
    kept = np.array([k for k in range(i.size) if k not in aside])
    mean, step, s_xx = _line(i[kept], at[kept])
    pitch = math.hypot(step[0], step[1])
    if pitch <= ROUNDING * float(np.abs(at).max()):
        raise DegenerateGeometryError("All these pockets stand at one place: they make no row.")
    rest = at - mean - np.outer(i - i[kept].mean(), step)
    ux, uy = step[0] / pitch, step[1] / pitch
    along, across = rest[:, 0] * ux + rest[:, 1] * uy, rest[:, 1] * ux - rest[:, 0] * uy
    dof, reach = kept.size - 2, float(np.abs(at).max())
    least = max(repeatability**2 / 2.0, resolution**2 / 12.0)
    u_along, u_across, u_height = (
        math.sqrt(_variance(fit_scatter(r[kept], dof, reach), least) / s_xx) for r in (along, across, rest[:, 2])
    )
    return PocketRow(
        pitch, math.atan2(step[1], step[0]), float(step[2]), along, across, rest[:, 2], aside,
        u_along, u_across / pitch, u_height, dof,
    )  # fmt: skip


def bent(numbers: Floats, places: Floats, repeatability: float = 0.0) -> tuple[int, ...]:
    """Return the positions of the pockets that do not belong on the line of the others.

    Each pocket is held against the line of the others: ``F = (|d|² / 3) / (s² (1 + h))``. Two bent ones hide each
    other, so the one with the largest F goes, significant or not, and again as far as allowed; all up to the last
    that was above its bound are set aside. Source: B. Rosner, Technometrics 25 (1983) 165-172.
    """
    measured = numbers.size
    least = max(LEAST_KEPT, math.ceil(KEPT_SHARE * measured - 1e-9))
    tiny = ROUNDING * float(np.abs(places).max())
    left, gone, last = list(range(measured)), [], 0
    while len(left) - 1 >= least:
        ratios = _ratios(numbers[left], places[left], repeatability, tiny)
        worst = int(np.argmax(ratios))
        bound = variance_ratio(1.0 - RISK / measured, 3, 3 * (len(left) - 1) - 6)
        gone.append(left.pop(worst))
        if ratios[worst] > bound:
            last = len(gone)
    return tuple(gone[:last])


def _ratios(numbers: Floats, places: Floats, repeatability: float, tiny: float) -> Floats:
    """Return F of each pocket (n,) against the line of the others.

    Notes: with e the residuals from the line of all and l = 1/n + (i - mean)² / S their leverages, a pocket's
    distance from the line of the others is e / (1 - l), their sum of squares is less by |e|² / (1 - l), and
    1 + h = 1 / (1 - l) (Draper & Smith, 3rd ed., ch. 8).
    """
    mean, step, s_xx = _line(numbers, places)
    far = numbers - numbers.mean()
    rest = places - mean - np.outer(far, step)
    rest[np.abs(rest) <= tiny] = 0.0
    free = 1.0 - 1.0 / numbers.size - far**2 / s_xx  # 1 - l
    squares = (rest * rest).sum(axis=1)
    others = np.maximum(squares.sum() - squares / free, 0.0) / (3 * (numbers.size - 1) - 6)
    s2 = np.maximum(others, max(repeatability**2 / 2.0, tiny**2))
    ratios: Floats = squares / free / 3.0 / s2
    return ratios


def _line(numbers: Floats, places: Floats) -> tuple[Floats, Floats, float]:
    """Return mean place, step a pocket and the sum of squared distances of the numbers from their mean."""
    far = numbers - numbers.mean()
    s_xx = float(far @ far)
    return places.mean(axis=0), far @ (places - places.mean(axis=0)) / s_xx, s_xx


def _variance(here: Pooled, least: float) -> float:
    """Return the variance the residuals show, the least believed one where they show none at all."""
    return here.variance if here.variance > 0.0 else least
