"""A cutting process followed part by part: where its size is and how it drifts, told from what each part does by
itself.

Local level with a trend (Harvey, Forecasting, Structural Time Series Models and the Kalman Filter, 1989, ch. 2), the
scatter of a part from moving ranges with the corrections taken out. What is corrected is the estimate, and only where
it is beyond its own doubt: a correction for each part inside the scatter makes a steady process worse (tampering; W. E.
Deming, Out of the Crisis, 1986, ch. 11).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

State = Literal["leave", "correct", "stop"]


@dataclass(frozen=True, slots=True)
class NextWear:
    """The wear for the next part."""

    wear: float  #: as the machine shows it, mm
    state: State
    limited: bool = False  #: whether the step was cut to the largest allowed


def next_wear(
    old: float,
    error: float,
    expanded: float,
    factor: float,
    *,
    gain: float,
    step_limit: float = math.inf,
    stop: float = math.inf,
) -> NextWear:
    """Return the wear for the next part.

    Parameters: old, the wear now (as shown, mm; more of it sends the axis to a larger X); error, size less nominal
    (real, mm) with its expanded uncertainty; factor, what turns a shown X difference into a real one; gain, the share
    of the error taken away at once; step_limit, of the wear as shown; stop, an error beyond which nothing is corrected.
    Notes: a larger X makes an outside and an inside diameter alike larger, so the sign is the same for both.
    """
    if abs(error) > stop:
        return NextWear(old, "stop")
    if abs(error) <= expanded:
        return NextWear(old, "leave")
    return stepped(old, -gain * error / (2.0 * factor), step_limit)


def stepped(old: float, step: float, step_limit: float) -> NextWear:
    """Return a wear one step on, the step cut to the largest allowed; all as shown."""
    if abs(step) > step_limit:
        return NextWear(old + math.copysign(step_limit, step), "correct", True)
    return NextWear(old + step, "correct")


SURE = 3.0  #: a slope within so many of its u is none
STEADY_SHARE = 0.01  #: how far the level of a process without drift wanders from part to part, in scatters of a part
LEVEL_SHARE, SLOPE_SHARE = 0.02, 0.005  #: how far level and slope wander from part to part, in scatters of a part
FIRST_SLOPE = 0.5  #: what the slope may be before anything is known, in scatters of a part
D2 = 1.128
LEAST_PARTS = 5  #: before that many the scatter of a part is a guess: the first part alone is corrected
BEYOND = 2.0  #: an estimate is corrected beyond so many of its own u
APART = 5.0  #: a part so many u off its estimate is no drift: an insert broke


@dataclass(frozen=True, slots=True)
class Part:
    """One part: its error with the wear it was cut with, mm (diameters)."""

    error: float
    u: float  #: standard uncertainty of the measured size
    wear_effect: float = 0.0  #: what its wear made of the size, mm


@dataclass(frozen=True, slots=True)
class Process:
    """What the parts say of the next one, were it cut without any wear; mm."""

    level: float  #: error to be expected of the next part
    u: float  #: of that expectation, the part's own scatter not in it
    slope: float  #: a part
    scatter: float  #: of a part by itself, with its measurement; 0: not known yet
    off: float  #: how far the newest part lay from what the ones before it made expect, in u of that difference


def follow(parts: Sequence[Part]) -> Process:
    """Estimate the process from parts in the order they were cut.

    Raises: ValueError (no part).
    """
    if not parts:
        raise ValueError("a process has one part at least")
    plain = [part.error - part.wear_effect for part in parts]
    measured = math.sqrt(math.fsum(part.u**2 for part in parts) / len(parts))
    ranges = [abs(b - a) for a, b in itertools.pairwise(plain)]
    seen = (
        sorted(ranges)[: max(1, len(ranges) - len(ranges) // 8)] if len(ranges) >= 8 else ranges
    )  # a break is no scatter
    scatter = max(math.fsum(seen) / len(seen) / D2 if seen else 0.0, measured)
    if len(plain) == 1:
        return Process(plain[0], measured, 0.0, 0.0, 0.0)
    level, u, slope, off = _filtered(plain, scatter, LEVEL_SHARE, SLOPE_SHARE, FIRST_SLOPE)
    if abs(slope[0]) <= SURE * slope[1]:  # no drift to be seen: one level, that hardly wanders
        level, u, _, off = _filtered(plain, scatter, STEADY_SHARE, 0.0, 0.0)
        return Process(level, u, 0.0, scatter, off)
    return Process(level, u, slope[0], scatter, off)


def next_by_process(
    parts: Sequence[Part], old: float, factor: float, *, gain: float, step_limit: float, stop: float
) -> NextWear:
    """Return the wear for the next part from all parts of a process, the newest last (at least two).

    Parameters: old, the wear now (as shown, mm); factor, what turns a shown X difference into a real one; gain, the
    share of the expected error taken away; step_limit, of the wear as shown; stop, an error of the newest part beyond
    which nothing is corrected. A part far off its estimate stops too: an edge broke, and a broken edge is not followed.
    Raises: ValueError (no part).
    """
    found = follow(parts)
    if abs(parts[-1].error) > stop or (len(parts) >= LEAST_PARTS and abs(found.off) > APART):
        return NextWear(old, "stop")
    expected = found.level + 2.0 * factor * old
    if len(parts) < LEAST_PARTS or abs(expected) <= BEYOND * found.u:
        return NextWear(old, "leave")
    return stepped(old, -gain * expected / (2.0 * factor), step_limit)


def _filtered(
    values: Sequence[float], scatter: float, level_share: float, slope_share: float, first_slope: float
) -> tuple[float, float, tuple[float, float], float]:
    """Return the next part's level and its u, the slope and its u, and how far off the newest lay (Kalman filter)."""
    r, ql, qs = scatter**2, (level_share * scatter) ** 2, (slope_share * scatter) ** 2
    level, slope = values[0], 0.0
    pll, pls, pss = r, 0.0, (first_slope * scatter) ** 2
    off = 0.0
    for value in values[1:]:
        level, pll, pls, pss = level + slope, pll + 2.0 * pls + pss + ql, pls + pss, pss + qs
        total = pll + r
        off = (value - level) / math.sqrt(total)
        kl, ks = pll / total, pls / total
        level, slope = level + kl * (value - level), slope + ks * (value - level)
        pll, pls, pss = pll * (1.0 - kl), pls * (1.0 - kl), pss - ks * pls
    return level + slope, math.sqrt(pll + 2.0 * pls + pss + ql), (slope, math.sqrt(max(pss, 0.0))), off
