"""Circles through touches: geometric least squares, one radius, a centre for each orientation."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.errors import DegenerateGeometryError
from nonna.metrology.doubt.fits import Floats
from nonna.metrology.doubt.scatter import Pooled, fit_scatter

LARGEST_RADIUS = 1e5  # in spreads of the points; beyond it an arc is a straight line to double precision
STEPS = 80  #: of 6,000 random fits none that ends well takes more than fifty
CLOSE = 1e-9  # a Newton step this short leaves an error of its square
ROUNDING = 1e-14
_ARC = "The touches lie on a straight line or on too short an arc to tell a circle: spread them round."


@dataclass(frozen=True, slots=True, eq=False)
class CircleFit:
    """Circles with one radius fitted to groups of points."""

    centres: Floats  #: (m, 2) mm, one for each group
    radius: float
    spread: Floats  #: (2m+1, 2m+1) covariance of x0, y0, x1, ..., radius for a touch of unit variance
    residuals: tuple[Floats, ...]  #: distance from the centre minus radius, by group
    scatter: Pooled  #: dof n - 2m - 1

    def u(self, weights: ArrayLike) -> float:
        """Return the standard uncertainty of ``weights · (x0, y0, ..., radius)`` for a touch of unit variance."""
        g = np.asarray(weights, dtype=float)
        return float(np.sqrt(max(0.0, g @ self.spread @ g)))


def fit_circles(groups: Sequence[ArrayLike]) -> CircleFit:
    """Fit circles of one common radius by orthogonal distance.

    Parameters: groups, each (n_i, 2) in mm with n_i >= 3.
    Raises: DegenerateGeometryError (points on a line, or an arc too short to tell).
    Method: damped Newton on centre and radius from the algebraic fit of G. Taubin (IEEE PAMI 13 (1991)
    1115-1138); N. Chernov, Circular and Linear Regression (2010), ch. 4-5.
    """
    given = [np.asarray(group, dtype=float) for group in groups]
    shifts = np.array([points.mean(axis=0) for points in given])
    parts = [np.ascontiguousarray((p - shift).T) for p, shift in zip(given, shifts, strict=True)]
    count = sum(p.shape[1] for p in parts)
    scale = math.sqrt(sum(float(np.vdot(p, p)) for p in parts) / count)
    reach = max(float(np.abs(p).max(initial=0.0)) for p in given)
    if scale <= 1e-12 * reach or scale == 0.0:
        raise DegenerateGeometryError("All touches are at one place: spread them round.")
    parts = [p / scale for p in parts]
    starts = [_taubin(p) for p in parts]
    beta = np.array([*(c for start in starts for c in start[:2]), sum(s[2] for s in starts) / len(starts)])
    beta, shape = _refined(parts, beta)
    radius = float(beta[-1]) * scale
    spread = _inverse(shape.information)
    misses = tuple(miss * scale for miss in shape.misses)
    scatter = fit_scatter(np.concatenate(misses), count - beta.size, max(reach, radius))
    if radius > LARGEST_RADIUS * scale or scatter.variance * spread[-1, -1] > radius**2:
        raise DegenerateGeometryError(_ARC)
    return CircleFit(beta[:-1].reshape(-1, 2) * scale + shifts, radius, spread, misses, scatter)


def largest_gap(centre: ArrayLike, points: ArrayLike) -> float:
    """Return the largest angle (radians) between neighbouring directions of points (n, 2) seen from centre."""
    away = np.asarray(points, dtype=float) - np.asarray(centre, dtype=float)
    angles = np.sort(np.arctan2(away[:, 1], away[:, 0]))
    return float(np.diff(np.append(angles, angles[0] + 2.0 * np.pi)).max())


def _taubin(p: Floats) -> tuple[float, float, float]:
    """Return centre and radius of the algebraic fit; points (2, n) about their mean, of size about 1."""
    z = p[0] * p[0] + p[1] * p[1]
    mean = float(z.sum()) / z.size
    if mean <= 1e-24:
        raise DegenerateGeometryError("All touches of one orientation are at one place: spread them round.")
    design = np.stack(((z - mean) / (2.0 * math.sqrt(mean)), p[0], p[1]))
    values, vectors = np.linalg.eigh(design @ design.T)
    if values[1] <= 1e-14 * values[2]:
        raise DegenerateGeometryError(_ARC)
    a, b, c = (float(v) for v in vectors[:, 0])
    a /= 2.0 * math.sqrt(mean)
    if abs(a) * LARGEST_RADIUS < 1e-3 * math.hypot(b, c):
        raise DegenerateGeometryError(_ARC)
    x, y = -b / (2.0 * a), -c / (2.0 * a)
    return x, y, math.sqrt(x * x + y * y + mean)


@dataclass(frozen=True, slots=True, eq=False)
class _Shape:
    """Half the sum of squares at one place, with its derivatives."""

    cost: float
    misses: list[Floats]
    gradient: Floats
    information: Floats  #: JᵀJ
    second: Floats  #: the full second derivative


def _shape(parts: Sequence[Floats], beta: Floats) -> _Shape:
    size = beta.size
    gradient, information, curvature = np.zeros(size), np.zeros((size, size)), np.zeros((size, size))
    radius, cost, misses = float(beta[-1]), 0.0, []
    for i, p in enumerate(parts):
        x, y, n = p[0] - beta[2 * i], p[1] - beta[2 * i + 1], p.shape[1]
        distance = np.sqrt(x * x + y * y)
        inverse = 1.0 / np.maximum(distance, 1e-300)
        u, v, miss = x * inverse, y * inverse, distance - radius
        bend = miss * inverse
        cost += float(miss @ miss)
        misses.append(miss)
        uu, uv, su, sv = float(u @ u), float(u @ v), float(u.sum()), float(v.sum())
        k, l = 2 * i, 2 * i + 1  # noqa: E741
        gradient[k], gradient[l] = -float(miss @ u), -float(miss @ v)
        gradient[-1] -= float(miss.sum())
        information[k, k], information[l, l] = uu, n - uu
        information[k, l] = information[l, k] = uv
        information[k, -1] = information[-1, k] = su
        information[l, -1] = information[-1, l] = sv
        information[-1, -1] += n
        bu, total = bend * u, float(bend.sum())
        across = float(bu @ u)
        curvature[k, k], curvature[l, l] = total - across, across
        curvature[k, l] = curvature[l, k] = -float(bu @ v)
    return _Shape(cost, misses, gradient, information, information + curvature)


def _refined(parts: Sequence[Floats], beta: Floats) -> tuple[Floats, _Shape]:
    """Minimise the sum of squares; return the parameters and the shape there."""
    here, damping, count = _shape(parts, beta), 0.0, sum(p.shape[1] for p in parts)
    for _ in range(STEPS):
        step = _step(here, damping)
        longest = float(np.abs(step).max()) / max(1.0, float(np.abs(beta).max()))
        trial = _shape(parts, beta + step)
        noise = ROUNDING * math.sqrt(count * here.cost)  # what rounding of the distances does to the sum of squares
        if trial.cost <= here.cost + noise or longest <= ROUNDING:
            beta, here = beta + step, trial
            if longest <= CLOSE:
                return beta, here
            damping = damping / 10.0 if damping > 1e-12 else 0.0
        elif damping > 1e6 or trial.cost - here.cost <= 1e-14 * here.cost + 1e-28:
            return beta, here  # no step goes lower any more: rounding decides
        else:
            damping = max(10.0 * damping, 1e-6)
    raise DegenerateGeometryError(_ARC)


def _step(here: _Shape, damping: float) -> Floats:
    """Return the Newton step where the surface curves upwards, else a damped Gauss-Newton step."""
    for matrix in (here.second, here.information):
        damped = matrix + damping * np.diag(np.diag(here.information)) if damping else matrix
        try:
            np.linalg.cholesky(damped)
            return np.asarray(-np.linalg.solve(damped, here.gradient))
        except np.linalg.LinAlgError:
            continue
    raise DegenerateGeometryError(_ARC)


def _inverse(information: Floats) -> Floats:
    try:
        return np.asarray(np.linalg.inv(information))
    except np.linalg.LinAlgError as error:
        raise DegenerateGeometryError(_ARC) from error
