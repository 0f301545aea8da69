"""Drift of one value over time: control charts, steps told from drift, the trend since and where it meets a limit.

Sources: ISO 7870-2 (individuals and moving range), ISO 7870-6 (EWMA); steps by F-tests of nested models with
Bonferroni's correction for the places tried, and the Bayesian information criterion between models (Schwarz, Annals of
Statistics 6 (1978) 461-464); the band of a regression line as in any text on least squares.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nonna.metrology.doubt.quantiles import student_t, two_sided_p

Vector: TypeAlias = NDArray[np.float64]

LAMBDA, D2 = 0.2, 1.128
MEAN_LIMIT, RANGE_LIMIT, EWMA_SIGMAS = 2.66, 3.267, 3.0
SIGNIFICANCE = 0.01 / 4.0  #: four models are tried
TWO_LEVELS, THREE_LEVELS = 10.0, 18.0  #: what n ln(RSS of a line / RSS) must reach
TEN_YEARS = 3652.5  #: days


@dataclass(frozen=True, slots=True)
class Chart:
    """Values with the limits of a control chart."""

    centre: float
    lower: float
    upper: float
    out: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Smoothed:
    """An exponentially weighted moving average and where it leaves its limits."""

    values: Vector
    out: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Found:
    """A place where a series breaks."""

    index: int  #: of the first point after it
    p: float  #: of the model that found it, times the places tried


@dataclass(frozen=True, slots=True)
class Size:
    """How far a step goes."""

    size: float
    u: float


@dataclass(frozen=True, slots=True)
class DriftLine:
    """A straight line through the points since the last step: ``value = mean + slope (t - middle)``, t in days."""

    slope: float
    u: float
    dof: float
    p: float
    mean: float
    middle: float
    s: float
    n: int
    spread: float  #: sum of (t - middle)²


def individuals(x: Vector) -> tuple[Chart, Chart]:
    """Return the chart of individuals and that of the moving range, whose points are the later of each pair.

    Parameters: x (n,), n >= 2, in order of time.
    """
    ranges = np.abs(np.diff(x))
    centre, mean = float(x.mean()), float(ranges.mean())
    lower, upper = centre - MEAN_LIMIT * mean, centre + MEAN_LIMIT * mean
    far = _beyond(x, lower, upper)
    limit = RANGE_LIMIT * mean
    return Chart(centre, lower, upper, far), Chart(mean, 0.0, limit, tuple(i + 1 for i in _beyond(ranges, 0.0, limit)))


def ewma(x: Vector) -> Smoothed:
    """Return the EWMA from the mean on, lambda 0.2, with limits of three sigma that grow with each point, exactly."""
    centre, sigma = float(x.mean()), float(np.abs(np.diff(x)).mean()) / D2
    values, now = np.empty_like(x), centre
    for i, value in enumerate(x.tolist()):
        now = LAMBDA * value + (1.0 - LAMBDA) * now
        values[i] = now
    grown = 1.0 - (1.0 - LAMBDA) ** (2.0 * np.arange(1, x.size + 1))
    limit = EWMA_SIGMAS * sigma * np.sqrt(LAMBDA / (2.0 - LAMBDA) * grown)
    slack = _rounding(x)
    return Smoothed(values, tuple(np.flatnonzero(np.abs(values - centre) > limit + slack).tolist()))


def _beyond(x: Vector, lower: float, upper: float) -> tuple[int, ...]:
    slack = _rounding(x)
    return tuple(np.flatnonzero((x < lower - slack) | (x > upper + slack)).tolist())


def _rounding(x: Vector) -> float:
    return 64.0 * float(np.finfo(float).eps) * float(np.abs(x).max(initial=0.0))


def steps(t: Vector, x: Vector) -> tuple[Found, ...]:
    """Return where a series breaks, in order of time.

    Parameters: t (n,) days, in order; x (n,). In each segment two levels, three levels, two levels with one slope and
    two lines are tried; the least ``n ln RSS + q ln n`` of those that pass splits it, and again in each part.
    """
    found: list[Found] = []
    waiting = [(0, x.size)]
    while waiting:
        first, last = waiting.pop()
        split = _split(t[first:last], x[first:last])
        if split is None:
            continue
        places, p = split
        found += [Found(first + place, p) for place in places]
        ends = [first, *(first + place for place in places), last]
        waiting += list(itertools.pairwise(ends))
    return tuple(sorted(found, key=lambda each: each.index))


def size_of(x: Vector, places: tuple[int, ...], which: int) -> Size:
    """Return the size of a step: the means of its two final neighbours and their pooled scatter.

    Parameters: places, all steps in order; which, the step's number among them.
    """
    ends = (0, *places, x.size)
    before, after = x[ends[which] : ends[which + 1]], x[ends[which + 1] : ends[which + 2]]
    dof = before.size + after.size - 2
    rss = _rss(before) + _rss(after)
    s2 = rss / dof if dof > 0 else 0.0
    return Size(float(after.mean() - before.mean()), math.sqrt(s2 * (1.0 / before.size + 1.0 / after.size)))


def trend(t: Vector, x: Vector) -> DriftLine | None:
    """Return the line through points at different times; None for fewer than three, or all at one time."""
    n = x.size
    middle, mean = float(t.mean()), float(x.mean())
    spread = float(((t - middle) ** 2).sum())
    if n < 3 or spread <= 0.0:
        return None
    slope = float(((t - middle) * (x - mean)).sum()) / spread
    rss = float(((x - mean - slope * (t - middle)) ** 2).sum())
    if rss <= n * _rounding(x) ** 2:
        rss = 0.0
    s = math.sqrt(rss / (n - 2))
    u = s / math.sqrt(spread)
    p = two_sided_p(slope / u, n - 2) if u > 0.0 else (0.0 if slope else 1.0)
    return DriftLine(slope, u, n - 2, p, mean, middle, s, n, spread)


@dataclass(frozen=True, slots=True)
class Meeting:
    """When a line meets a limit, in days after ``now``; None where it does not within ten years."""

    line: float | None
    earliest: float | None
    latest: float | None


def meets(line: DriftLine, now: float, lower: float | None, upper: float | None) -> Meeting | None:
    """Return when a line, and the 95 % band of its mean, reach a limit; None where none of them does.

    ``earliest`` is when the band's outer edge reaches a limit, ``latest`` when its inner edge does: the mean is beyond
    the limit by then. What is beyond already meets it now.
    """
    reach = student_t(0.975, line.dof) * line.s
    found = []
    for limit, sign in ((lower, -1.0), (upper, 1.0)):
        if limit is None:
            continue
        height, slope = sign * (limit - line.mean), sign * line.slope  # both as if the limit were an upper one
        at = now - line.middle
        found.append(tuple(_reached(height, slope, edge * reach, line.n, line.spread, at) for edge in (0.0, 1.0, -1.0)))
    firsts = [_first(times) for times in zip(*found, strict=True)]
    return Meeting(*firsts) if any(each is not None for each in firsts) else None


def _first(times: tuple[float | None, ...]) -> float | None:
    known = [time for time in times if time is not None]
    return min(known) if known else None


def _reached(height: float, slope: float, reach: float, n: int, spread: float, at: float) -> float | None:
    """Return how long after ``at`` (days from the middle) ``slope τ + reach sqrt(1/n + τ²/spread)`` reaches a
    height.
    """

    def over(tau: float) -> bool:
        return slope * tau + reach * math.sqrt(1.0 / n + tau * tau / spread) >= height

    if over(at):
        return 0.0
    if reach == 0.0:  # the line itself: a root of its own, not two that rounding may lose
        found = [height / slope] if slope else []
    else:
        found = _roots(
            slope * slope - reach * reach / spread, -2.0 * height * slope, height * height - reach * reach / n
        )
    roots = [r for r in found if at < r <= at + TEN_YEARS]
    tiny = 1e-9 * (1.0 + abs(at))
    return next((r - at for r in sorted(roots) if over(r + tiny + 1e-9 * abs(r))), None)


def _roots(a: float, b: float, c: float) -> list[float]:
    if a == 0.0:
        return [-c / b] if b else []
    inside = b * b - 4.0 * a * c
    if inside < 0.0:
        return []
    q = -(b + math.copysign(math.sqrt(inside), b)) / 2.0  # no difference of nearly equal numbers
    return [q / a] + ([c / q] if q else [])


def _split(t: Vector, x: Vector) -> tuple[tuple[int, ...], float] | None:
    """Return the places that split a segment best, and p; None where no model passes."""
    n = x.size
    if n < 6:
        return None
    floor = n * _rounding(x) ** 2 + float(np.finfo(float).tiny)
    level, line = max(_rss(x), floor), max(_line_rss(t, x), floor)
    if level <= 2.0 * floor:
        return None
    passing: list[tuple[float, tuple[int, ...], float]] = []
    for places, rss, tried, extra, parameters, q, against, least in _models(t, x, level, line):
        rss = max(rss, floor)
        p = min(1.0, tried * _f_test(against, rss, extra, n - parameters))
        if p < SIGNIFICANCE and n * math.log(line / rss) >= least:
            passing.append((n * math.log(rss) + q * math.log(n), places, p))
    if not passing:
        return None
    _, places, p = min(passing)
    return places, p


_Model: TypeAlias = tuple[tuple[int, ...], float, int, int, int, int, float, float]


def _models(t: Vector, x: Vector, level: float, line: float) -> Iterator[_Model]:
    """Yield the best place(s) of each model: places, RSS, places tried, parameters beyond the one it is tested against,
    parameters in all, q, RSS of the one it is tested against, and what n ln(RSS of a line / RSS) must reach.
    """
    n = x.size
    sums = _Sums(t, x)
    two = np.arange(2, n - 1)
    rss = sums.level(0, two) + sums.level(two, n)
    k = int(np.argmin(rss))
    yield (int(two[k]),), float(rss[k]), two.size, 1, 2, 4, level, TWO_LEVELS
    if n >= 8:
        best, places, tried = math.inf, (0, 0), 0
        for first in range(2, n - 3):  # row by row: all pairs at once would fill the memory of long series
            second = np.arange(first + 2, n - 1)
            rss = sums.level(first, second) + sums.level(second, n)
            k, tried = int(np.argmin(rss)), tried + second.size
            if (whole := float(sums.level(0, first)) + float(rss[k])) < best:
                best, places = whole, (first, int(second[k]))
        yield places, best, tried, 2, 3, 7, level, THREE_LEVELS
    rss = sums.sloped(two)
    k = int(np.argmin(rss))
    yield (int(two[k]),), float(rss[k]), two.size, 1, 3, 5, line, -math.inf
    if n >= 7:
        three = np.arange(3, n - 2)
        rss = sums.line(0, three) + sums.line(three, n)
        k = int(np.argmin(rss))
        yield (int(three[k]),), float(rss[k]), three.size, 2, 4, 6, line, -math.inf


class _Sums:
    """Sums of squares of any part of a series, from running sums of centred values."""

    def __init__(self, t: Vector, x: Vector) -> None:
        t, x = t - t.mean(), x - x.mean()
        zero = np.zeros(1)
        self._n = t.size
        self._x, self._xx, self._t, self._tt, self._tx = (
            np.concatenate((zero, np.cumsum(v))) for v in (x, x * x, t, t * t, t * x)
        )

    def _moments(self, a: NDArray[np.intp] | int, b: NDArray[np.intp] | int) -> tuple[Vector, Vector, Vector]:
        n = np.asarray(b) - np.asarray(a)
        sx, st = self._x[b] - self._x[a], self._t[b] - self._t[a]
        xx = self._xx[b] - self._xx[a] - sx * sx / n
        tt = self._tt[b] - self._tt[a] - st * st / n
        tx = self._tx[b] - self._tx[a] - st * sx / n
        return np.maximum(xx, 0.0), np.maximum(tt, 0.0), tx

    def level(self, a: NDArray[np.intp] | int, b: NDArray[np.intp] | int) -> Vector:
        """Squares about the mean of points a to b."""
        return self._moments(a, b)[0]

    def line(self, a: NDArray[np.intp] | int, b: NDArray[np.intp] | int) -> Vector:
        """Squares about the line of points a to b."""
        xx, tt, tx = self._moments(a, b)
        return np.maximum(xx - np.divide(tx * tx, tt, out=np.zeros_like(xx), where=tt > 0.0), 0.0)

    def sloped(self, k: NDArray[np.intp]) -> Vector:
        """Squares about two levels with one slope, split at k."""
        one, two = self._moments(0, k), self._moments(k, self._n)
        xx, tt, tx = one[0] + two[0], one[1] + two[1], one[2] + two[2]
        return np.maximum(xx - np.divide(tx * tx, tt, out=np.zeros_like(xx), where=tt > 0.0), 0.0)


def _rss(x: Vector) -> float:
    return float(((x - x.mean()) ** 2).sum()) if x.size else 0.0


def _line_rss(t: Vector, x: Vector) -> float:
    return float(_Sums(t, x).line(0, x.size))


def _f_test(rss0: float, rss: float, extra: int, dof: int) -> float:
    """Return the probability of so much better a fit by chance."""
    if dof <= 0 or rss0 <= rss:
        return 1.0
    f = (rss0 - rss) / extra / (rss / dof)
    return float(special.fdtrc(extra, dof, f))
