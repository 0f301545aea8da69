"""When a drifting value meets its limit, and whether that can be said at all.

A straight line's band is true only where what is left of the line does not hang together. So the residuals' correlation
at the first lag takes points away (Bartlett, J. Roy. Statist. Soc. 8 (1946) 27-41), the place of a step is as doubtful
as the likelihood says (Hinkley, Biometrika 57 (1970) 1-17), and where a season, a bend or a wander explains the values
better than a line, no date is given. AICc: Hurvich & Tsai, Biometrika 76 (1989) 297-307.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from nonna.metrology.drifting.drift import DriftLine, Meeting, Vector, meets, trend

AUTOCORRELATED, SEASONAL, WANDER = "autocorrelated", "seasonal", "wander"
YEAR = 365.25  #: days
UNLIKELY = 0.1  #: of a season or a bend by chance
LEAST_FREE = 2.5  #: degrees of freedom that must be left once points that say the same are taken away
PLAUSIBLE = (
    3.84  #: places whose -2 ln likelihood lies within this of the best may be the step's, too (chi square, 95 %)
)
LEAST_POINTS, LEAST_FOR_SHAPE = 3, 7


@dataclass(frozen=True, slots=True)
class Forecast:
    """The line since the last step, when it meets a limit, and why no date is given where none is."""

    line: DriftLine | None
    meeting: Meeting | None
    flags: tuple[str, ...]


def forecast(
    t: Vector,
    x: Vector,
    places: tuple[int, ...],
    now: float,
    lower: float | None,
    upper: float | None,
) -> Forecast:
    """Say when a series meets a limit.

    Parameters: t (n,) days, in order; x (n,); places, where it steps; now (days); lower and upper limit, None for none.
    """
    first = places[-1] if places else 0
    line = trend(t[first:], x[first:])
    if line is None or (lower is None and upper is None):
        return Forecast(line, None, ())
    flags = _shape(t[first:], x[first:], line)
    if SEASONAL not in flags and _season_for_steps(t, x, places):
        flags = (*flags, SEASONAL)
    if flags:
        return Forecast(line, None, flags)
    met = [meets(_freed(t[at:], x[at:], one), now, lower, upper) for at, one in _places(t, x, places, line)]
    return Forecast(line, _envelope(met), ())


def without_temperature(t: Vector, x: Vector, temperature: Vector) -> Vector:
    """Return values (n,) less what goes along with the temperature (n,), deg C, as if it had stayed at its mean."""
    away = temperature - temperature.mean()
    design = np.column_stack((np.ones_like(t), t - t.mean(), away))
    if t.size < LEAST_POINTS + 2 or np.linalg.matrix_rank(design) < 3:
        return x
    found: Vector = x - float(np.linalg.lstsq(design, x, rcond=None)[0][2]) * away
    return found


def lag_one(residuals: Vector) -> float:
    """Return the correlation of residuals (n,) with the ones before, freed of what a line takes out (about -2/n)."""
    n, squares = residuals.size, float(residuals @ residuals)
    if n < 4 or squares <= 0.0:
        return 0.0
    r = float(residuals[1:] @ residuals[:-1]) / squares
    return min(0.99, (n * r + 2.0) / max(n - 2.0, 1.0))


def _residuals(t: Vector, x: Vector, line: DriftLine) -> Vector:
    return x - line.mean - line.slope * (t - line.middle)


def _freed(t: Vector, x: Vector, line: DriftLine) -> DriftLine:
    """Return the line with as many points as its residuals are worth: n (1 - r) / (1 + r)."""
    r = lag_one(_residuals(t, x, line))
    if r <= 0.0 or not line.s:
        return line
    worth = line.n * (1.0 - r) / (1.0 + r)
    free = max(worth - 2.0, 1.0)
    grown = math.sqrt(line.n / worth)  # the mean and the slope alike are known that much less well
    return replace(line, dof=free, s=line.s * math.sqrt(line.dof / free) * grown)


def _shape(t: Vector, x: Vector, line: DriftLine) -> tuple[str, ...]:
    """Say what else than a line the values follow, nothing where a line will do."""
    n = x.size
    if n < LEAST_FOR_SHAPE or line.s == 0.0:
        return ()
    residuals = _residuals(t, x, line)
    rss = float(residuals @ residuals)
    found = []
    r, span = lag_one(residuals), float(t[-1] - t[0])
    if _aicc(_normal(rss / n, n), n, 3) >= _wander(t, x):
        found.append(WANDER)
    turn = 2.0 * math.pi * t / YEAR
    if span >= YEAR / 2.0 and n >= 9 and _better(t, x, rss, np.column_stack((np.cos(turn), np.sin(turn)))):
        found.append(SEASONAL)
    bend = (t - line.middle) ** 2
    hangs = r > 1.96 / math.sqrt(n)
    worth = n * (1.0 - r) / (1.0 + r) - 2.0
    if _better(t, x, rss, bend[:, np.newaxis]) or (hangs and worth < LEAST_FREE):
        found.append(AUTOCORRELATED)
    return tuple(found)


def _season_for_steps(t: Vector, x: Vector, places: tuple[int, ...]) -> bool:
    """Whether a season explains a whole series better than the steps that were found in it (AICc; a step's place
    counts).
    """
    n = x.size
    if not places or n < LEAST_FOR_SHAPE + 2 or float(t[-1] - t[0]) < YEAR / 2.0:
        return False
    turn, line = 2.0 * math.pi * t / YEAR, np.column_stack((np.ones_like(t), t - t.mean()))
    season = np.column_stack((line, np.cos(turn), np.sin(turn)))
    levels = np.column_stack((line, *(np.arange(n) >= place for place in places)))
    one, other = (_left(design.astype(float), x) for design in (season, levels))
    return _aicc(_normal(one / n, n), n, 5) < _aicc(_normal(other / n, n), n, 3 + 2 * len(places))


def _left(design: Vector, x: Vector) -> float:
    left = x - design @ np.linalg.lstsq(design, x, rcond=None)[0]
    return float(left @ left)


def _better(t: Vector, x: Vector, rss: float, more: Vector) -> bool:
    """Whether more terms beside a line (n, k) explain significantly more than it does."""
    design = np.column_stack((np.ones_like(t), t - t.mean(), more))
    k, dof = more.shape[1], t.size - design.shape[1]
    if dof < 2 or np.linalg.matrix_rank(design) < design.shape[1]:
        return False
    rest = _left(design, x)
    if rest <= 0.0:
        return rss > 0.0
    return float(special.fdtrc(k, dof, (rss - rest) / k / (rest / dof))) < UNLIKELY


def _wander(t: Vector, x: Vector) -> float:
    """Return AICc of a random walk: each step normal, its variance in proportion to the time."""
    dt = np.maximum(np.diff(t), 1e-9)
    rate = float(np.mean(np.diff(x) ** 2 / dt))
    if rate <= 0.0:
        return -math.inf
    logs = -0.5 * (np.log(2.0 * math.pi * rate * dt) + np.diff(x) ** 2 / (rate * dt))
    return _aicc(float(logs.sum()) * x.size / (x.size - 1), x.size, 2)  # of as many values as the line is judged by


def _normal(variance: float, n: int) -> float:
    return -0.5 * n * (math.log(2.0 * math.pi * max(variance, 1e-300)) + 1.0)


def _aicc(log_likelihood: float, n: int, k: int) -> float:
    return -2.0 * log_likelihood + 2.0 * k * n / max(n - k - 1, 1)


def _places(t: Vector, x: Vector, places: tuple[int, ...], line: DriftLine) -> list[tuple[int, DriftLine]]:
    """Return where the last step may have been, with the line since each."""
    if not places:
        return [(0, line)]
    begin, at = (places[-2] if len(places) > 1 else 0), places[-1]
    n = x.size - begin
    rss = {k: _two_lines(t[begin:k], x[begin:k], t[k:], x[k:]) for k in range(begin + 2, x.size - LEAST_POINTS + 1)}
    best = rss.get(at, 0.0)
    found = [(at, line)]
    for k, value in rss.items():
        if k != at and best > 0.0 and n * math.log(value / best) < PLAUSIBLE:
            other = trend(t[k:], x[k:])
            if other is not None:
                found.append((k, other))
    return found


def _two_lines(t0: Vector, x0: Vector, t1: Vector, x1: Vector) -> float:
    """Squares left by two levels with one slope."""
    tx = tt = xx = 0.0
    for t, x in ((t0, x0), (t1, x1)):
        dt, dx = t - t.mean(), x - x.mean()
        tx, tt, xx = tx + float(dt @ dx), tt + float(dt @ dt), xx + float(dx @ dx)
    return max(xx - tx * tx / tt if tt > 0.0 else xx, 0.0)


def _envelope(met: list[Meeting | None]) -> Meeting | None:
    """Return the first of several, with the earliest and the latest of all; None where none meets a limit."""
    known = [each for each in met if each is not None]
    if not known:
        return None
    earliest = min((each.earliest for each in known if each.earliest is not None), default=None)
    ends = [None if each is None else each.latest for each in met]
    latest = None if any(end is None for end in ends) else max(end for end in ends if end is not None)
    return Meeting(met[0].line if met[0] is not None else None, earliest, latest)
