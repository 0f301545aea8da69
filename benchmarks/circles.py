"""Circle fits: how many times faster than SciPy's general solver, and how far apart, in one run."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator

import numpy as np
from scipy.optimize import least_squares

from nonna.metrology.shapes.circles import fit_circles


def figures() -> Iterator[str]:
    """Give the ratio of times over arcs and numbers of points, the solver started as one would without a fit."""
    rng = np.random.default_rng(3)
    ratios, worst = [], 0.0
    for n in (4, 8, 36, 360, 3000, 10_000):
        for arc in (10, 20, 45, 90, 180, 360):
            t = np.linspace(0, math.radians(arc), n, endpoint=arc < 360)
            noise = rng.normal(0, 1e-4 * (arc / 360) ** 1.5, (n, 2))
            points = np.column_stack((np.cos(t), np.sin(t))) * 25 + noise + [700, 60]
            shift = points.mean(axis=0)
            x, y = (points - shift).T

            def miss(b: np.ndarray, x: np.ndarray = x, y: np.ndarray = y) -> np.ndarray:
                return np.asarray(np.hypot(x - b[0], y - b[1]) - b[2])

            fit_circles([points])
            begin = time.perf_counter()
            for _ in range(5):
                fit = fit_circles([points])
            ours = (time.perf_counter() - begin) / 5
            begin = time.perf_counter()
            other = least_squares(miss, [0.0, 0.0, float(np.hypot(x, y).mean())], xtol=1e-15, ftol=1e-15, gtol=1e-15)
            ratios.append((time.perf_counter() - begin) / ours)
            if arc >= 45:  # below that the general solver's own derivatives by differences are the limit
                worst = max(worst, float(np.abs(other.x[:2] + shift - fit.centres[0]).max()) / 25)
    yield (
        f"circle fit: {np.median(ratios):.1f} times faster than the general solver (median; least {min(ratios):.1f}, "
        f"most {max(ratios):.1f}; wanted 5), apart by at most {worst:.0e} radii from 45° up (wanted 1e-9)"
    )
