"""A rehearsed path made ready to be looked at: times, heights, stretches by tool, how far it reaches, its nearest
miss.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from nonna.metrology.doubt.fits import Floats
from nonna.shop.cards.machine import Machine
from nonna.standin.nearest import Nearest, nearest
from nonna.standin.path import Path, PathPoint

FEW = 4000  #: places of a path that are all drawn
EVEN_SHARE = 0.5  #: of the bar's width is shared alike by its tools, the rest by their time


@dataclass(frozen=True, slots=True)
class Stretch:
    """A tool's part of the path."""

    tool: int
    first: int  #: places in the path
    last: int
    from_s: float
    to_s: float

    @property
    def seconds(self) -> float:
        """How long it takes, its change included."""
        return self.to_s - self.from_s


@dataclass(frozen=True, slots=True, eq=False)  # arrays have no single truth value
class Course:
    """One path."""

    path: Path
    times: Floats  #: (n,) s, growing
    heights: Floats  #: (n,) machine Z of the tip, mm
    stretches: tuple[Stretch, ...]
    edges: Floats  #: (m + 1,) where the stretches begin and end on a bar of width 1
    reach: tuple[float, float, float, float]  #: lowest and highest X, then Y, mm
    nearest: Nearest | None

    def line_of(self, tool: int) -> int:
        """Return the block that brought a tool in, 0 where none did."""
        return next((self.path[s.first].line for s in self.stretches if s.tool == tool), 0)

    def index_at(self, seconds: float) -> int:
        """Return the last place reached at a time."""
        return max(0, bisect_right(self.times, seconds) - 1)

    def point(self, index: int, seconds: float) -> PathPoint:
        """Return where the spindle is at a time after a place of the path was reached, before the next one is."""
        here = self.path[index]
        if seconds <= here.at_s or index + 1 >= len(self.path):
            return here
        there = self.path[index + 1]
        share = min(1.0, (seconds - here.at_s) / max(there.at_s - here.at_s, 1e-9))
        x, y, z = (a + (b - a) * share for a, b in zip(here.at, there.at, strict=True))
        return here._replace(line=there.line, at_s=seconds, x=x, y=y, z=z, way=there.way)

    def place(self, seconds: float) -> float:
        """Return where a time stands on a bar of width 1: each tool has room there, so it is not to scale."""
        return float(np.interp(seconds, self._marks, self.edges))

    def second(self, place: float) -> float:
        """Return the time that stands at a place of the bar."""
        return float(np.interp(place, self.edges, self._marks))

    def outline(self, columns: int) -> list[tuple[float, float, bool]]:
        """Return places on the bar with the tip's height (mm) and whether it was a search; of a long path what shows.

        That is of each of so many columns the first, highest, lowest and last.
        """
        xs = np.interp(self.times, self._marks, self.edges)
        shown = range(len(xs)) if len(xs) < FEW else _thinned(xs * columns, self.heights)
        return [(float(xs[i]), float(self.heights[i]), self.path[i].way == "probe") for i in shown]

    @property
    def _marks(self) -> list[float]:
        return [stretch.from_s for stretch in self.stretches] + [self.stretches[-1].to_s]


def course_of(path: Sequence[PathPoint], machine: Machine) -> Course | None:
    """Return a path made ready, None for one that goes nowhere."""
    if len(path) < 2:
        return None
    whole = Path.of(path)
    times, places = whole.times, whole.places
    made: list[Stretch] = []
    for held, first, behind in whole.stretches():
        begun = made[-1].to_s if made else float(times[0])
        if made and made[-1].tool == held.tool:
            made[-1] = replace(made[-1], last=behind - 1, to_s=float(times[behind - 1]))
        else:
            made.append(Stretch(held.tool, first, behind - 1, begun, float(times[behind - 1])))
    made = [stretch for stretch in made if stretch.seconds > 0.0 or len(made) == 1]
    seconds = np.array([stretch.seconds for stretch in made])
    share = EVEN_SHARE / len(made) + (1.0 - EVEN_SHARE) * seconds / max(float(seconds.sum()), 1e-9)
    (x0, y0, _), (x1, y1, _) = places.min(axis=0), places.max(axis=0)
    return Course(
        whole, times, places[:, 2] - whole.lengths, tuple(made), np.concatenate([[0.0], np.cumsum(share)]),
        (float(x0), float(x1), float(y0), float(y1)), nearest(whole, machine),
    )  # fmt: skip


def _thinned(columns: Floats, heights: Floats) -> list[int]:
    kept: set[int] = set()
    edges = np.flatnonzero(np.diff(columns.astype(int))) + 1
    for first, last in zip([0, *edges], [*edges, len(columns)], strict=True):
        part = heights[first:last]
        kept |= {int(first), int(last) - 1, int(first + part.argmin()), int(first + part.argmax())}
    return sorted(kept)
