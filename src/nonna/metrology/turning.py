"""How late a turning tool is touched: an edge passes the sensor once a turn, and meanwhile the tool comes down."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from nonna.metrology.doubt.fits import Floats

ONE_EDGE = 1
PHASES = 2048


@dataclass(frozen=True, slots=True)
class Lateness:
    """How far beyond its longest edge a turning tool has come when it triggers, mm."""

    late: float  #: on the mean
    half_width: float = 0.0  #: of the rectangle within which that mean lies: one doubt for all touches of the tool
    touch_s: float = 0.0  #: standard deviation of one touch by chance of the phase


def lateness(feed_per_rev: float, flutes: int = ONE_EDGE) -> Lateness:
    """Return how late a tool with so many edges is touched; what they stand out by is not known.

    Parameters: feed_per_rev (mm, 0: standing still); flutes, 1: one edge alone passes, 0: unknown.
    One edge that stands out by the feed or more passes once a turn: f/2. z equal ones: f/(2z). Between those nobody
    knows: the middle, with a rectangle. The scatter by chance is at most that of one edge, f/√12.
    Raises: ValueError (a feed below 0, edges below 0).
    """
    if feed_per_rev < 0.0 or flutes < 0:
        raise ValueError("neither a feed nor edges can be below 0")
    share = 0.0 if flutes == 0 else 1.0 / flutes
    return Lateness(
        feed_per_rev * (1.0 + share) / 4.0, feed_per_rev * (1.0 - share) / 4.0, touch_s=feed_per_rev / math.sqrt(12.0)
    )  # fmt: skip


def lateness_of_edges(feed_per_rev: float, back: Sequence[float]) -> Lateness:
    """Return how late a tool is touched whose edges stand back from the longest by known amounts (mm).

    By integration over the phase at which the first of them could be met; edges stand evenly round the tool.
    Raises: ValueError (no edge, a feed below 0, none of them the longest).
    """
    if feed_per_rev < 0.0 or not back or min(back) != 0.0:
        raise ValueError("a feed from 0 up is wanted, and how far each edge stands back from the longest")
    found = touched_after(feed_per_rev, back, (np.arange(PHASES) + 0.5) / PHASES)
    return Lateness(float(found.mean()), touch_s=float(found.std()))


def touched_after(feed_per_rev: float, back: Sequence[float], phases: ArrayLike) -> Floats:
    """Return how far below its longest edge's plane each tool triggers (n,), mm.

    Parameters: back (z,), how far each edge stands back from the longest, evenly round the tool in the order they pass;
    phases (n,), of a turn, by which the first edge passes after the longest could be met.
    """
    at = np.asarray(phases, dtype=float)[:, np.newaxis]
    if feed_per_rev == 0.0:
        return np.zeros(len(at))
    edges = np.asarray(back, dtype=float)
    first = (at + np.arange(edges.size) / edges.size) % 1.0  # turns until each edge passes for the first time
    ready = edges / feed_per_rev  # turns until it has come down far enough
    turns = first + np.ceil(np.maximum(ready - first, 0.0))
    found: Floats = feed_per_rev * turns.min(axis=1)
    return found
