"""Linear least squares for what a dial shows: a plane over a face, the first harmonic round an axis."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import ArrayLike, NDArray

from nonna.errors import DegenerateGeometryError
from nonna.metrology.doubt.scatter import Pooled, fit_scatter

Floats: TypeAlias = NDArray[np.float64]
WORST_CONDITION = 1e8  # beyond this, a design tells nothing about one of its parameters


@dataclass(frozen=True, slots=True, eq=False)
class LinearFit:
    """Least-squares solution of ``design @ coefficients = readings``."""

    coefficients: Floats  #: (p,)
    spread: Floats  #: (p, p) covariance for a reading of unit variance
    residuals: Floats  #: (n,) readings minus fit
    scatter: Pooled  #: what the residuals show, dof n - p

    def u(self, *weights: float) -> float:
        """Return the standard uncertainty of ``weights · coefficients`` for a reading of unit variance."""
        g = np.array(weights)
        return float(np.sqrt(max(0.0, g @ self.spread @ g)))

    @property
    def peak_to_valley(self) -> float:
        """Spread of the residuals."""
        return float(np.ptp(self.residuals))


def fit_linear(design: ArrayLike, readings: ArrayLike) -> LinearFit:
    """Solve a linear least-squares problem.

    Parameters: design (n, p), readings (n,) in mm, n >= p.
    Raises: DegenerateGeometryError (columns that cannot be told apart). Method: singular values of the
    design with columns scaled to unit length (Golub & Van Loan, Matrix Computations, ch. 5).
    """
    x, y = np.asarray(design, dtype=float), np.asarray(readings, dtype=float)
    lengths = np.linalg.norm(x, axis=0)
    if not lengths.all():
        raise DegenerateGeometryError("The places touched lie on one line, or are one place: spread them out.")
    left, singular, right = np.linalg.svd(x / lengths, full_matrices=False)
    if singular[-1] * WORST_CONDITION <= singular[0]:
        raise DegenerateGeometryError("The places touched lie on one line, or are one place: spread them out.")
    inverse = right.T / singular / lengths[:, np.newaxis]  # (p, p)
    coefficients = inverse @ (left.T @ y)
    residuals = y - x @ coefficients
    residuals.setflags(write=False)
    scatter = fit_scatter(residuals, y.size - x.shape[1], float(np.abs(y).max()))
    return LinearFit(coefficients, inverse @ inverse.T, residuals, scatter)


def full_turn(degrees: float) -> float:
    """Return an angle within [0, 360) degrees; what rounds up to a full turn is none."""
    turned = degrees % 360.0
    return turned if turned < 360.0 else 0.0


def fit_plane(x: ArrayLike, y: ArrayLike, z: ArrayLike) -> LinearFit:
    """Fit ``z = c + sx x + sy y``; coefficients are (c, sx, sy), places and readings (n,) in mm.

    Raises: DegenerateGeometryError (places on one line).
    """
    a, b = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    middle = float(a.mean()), float(b.mean())  # about the middle: well conditioned wherever the pad stands
    fit = fit_linear(np.column_stack((np.ones(a.size), a - middle[0], b - middle[1])), z)
    shift = np.array([[1.0, -middle[0], -middle[1]], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
    return LinearFit(shift @ fit.coefficients, shift @ fit.spread @ shift.T, fit.residuals, fit.scatter)


def oval_seen(angles: ArrayLike) -> float:
    """Return how much of an oval's amplitude a fit of the first harmonic takes for eccentricity, root mean square over
    its turn.

    Parameters: angles (n,), rad. Returns 1/sqrt 2 for three angles 120 degrees apart, 0 for four or more spread evenly.
    Raises: DegenerateGeometryError, as `fit_harmonics`. Source: D. J. Whitehouse, as there: aliasing of harmonics.
    """
    t = np.asarray(angles, dtype=float)
    seen = [fit_harmonics(t, wave).coefficients[1:] for wave in (np.cos(2.0 * t), np.sin(2.0 * t))]
    return float(np.linalg.norm(seen)) / 2.0


def fit_harmonics(angles: ArrayLike, y: ArrayLike, orders: tuple[int, ...] = (1,)) -> LinearFit:
    """Fit ``y = m + Σ a_n cos n t + b_n sin n t``; coefficients are (m, a, b, ...), angles (n,) in radians.

    Raises: DegenerateGeometryError (too few different directions). Source: any text on roundness, such as
    D. J. Whitehouse, Handbook of Surface Metrology (1994), ch. 2.
    """
    t = np.asarray(angles, dtype=float)
    columns = [np.ones(t.size)]
    for order in orders:
        columns += [np.cos(order * t), np.sin(order * t)]
    return fit_linear(np.column_stack(columns), y)
