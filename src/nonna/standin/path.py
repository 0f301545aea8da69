"""Where the gauge line went in a rehearsal, kept in columns: a long program's way has a million places."""

from __future__ import annotations

from array import array
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import NamedTuple, overload

import numpy as np

from nonna.metrology.doubt.fits import Floats
from nonna.programs.language.drive import Position
from nonna.shop.cards.hanging import Holder

_WAYS = ("rapid", "feed", "probe", "change")


class InSpindle(NamedTuple):
    """What is in the spindle."""

    tool: int
    long: float  #: length, mm
    wide: float  #: diameter, mm
    holder: Holder = ()


class PathPoint(NamedTuple):
    """Where the gauge line went, by what kind of move, and how far below it the tip was."""

    line: int
    tool: int
    at_s: float
    x: float
    y: float
    z: float
    long: float  #: length of what is held, mm
    wide: float  #: its diameter, mm
    way: str  #: "rapid", "feed", "probe" or "change"
    holder: Holder = ()

    @property
    def at(self) -> Position:
        """Where the gauge line was."""
        return self.x, self.y, self.z


class Path(Sequence[PathPoint]):
    """All places of a path; `add` is for whoever makes it."""

    def __init__(self) -> None:
        self._lines, self._held, self._ways = array("q"), array("l"), array("b")
        self._numbers = array("d")  #: time, x, y and z of each place
        self._holds: list[InSpindle] = []

    @classmethod
    def of(cls, points: Iterable[PathPoint]) -> Path:
        """Return points as a path."""
        if isinstance(points, Path):
            return points
        made = cls()
        for p in points:
            made.add(p.line, p.at_s, p.at, p.way, InSpindle(p.tool, p.long, p.wide, p.holder))
        return made

    def add(self, line: int, at_s: float, at: Position, way: str, held: InSpindle) -> None:
        """Add the place where the gauge line came to."""
        if not self._holds or self._holds[-1] != held:
            self._holds.append(held)
        self._lines.append(line)
        self._held.append(len(self._holds) - 1)
        self._ways.append(_WAYS.index(way))
        self._numbers.extend((at_s, *at))

    @property
    def times(self) -> Floats:
        """(n,) seconds."""
        return self._table()[:, 0]

    @property
    def places(self) -> Floats:
        """(n, 3) machine coordinates of the gauge line, mm."""
        return self._table()[:, 1:]

    @property
    def lengths(self) -> Floats:
        """(n,) length of what is held, mm."""
        long: Floats = np.array([held.long for held in self._holds])[
            np.frombuffer(self._held, dtype=self._held.typecode)
        ]
        return long

    def index_of_line(self, line: int) -> int:
        """Return the first place that a block, or one behind it, led to; the first of all where none did."""
        late = np.frombuffer(self._lines, dtype=self._lines.typecode) >= line
        return int(late.argmax()) if len(late) else 0

    def stretches(self) -> list[tuple[InSpindle, int, int]]:
        """Return what was held, each with the first place and the one behind the last."""
        held = np.frombuffer(self._held, dtype=self._held.typecode)
        edges = [0, *(int(i) for i in np.flatnonzero(np.diff(held)) + 1), len(held)]
        return [(self._holds[int(held[a])], a, b) for a, b in pairwise(edges) if b > a]

    def __len__(self) -> int:
        """How many places."""
        return len(self._lines)

    @overload
    def __getitem__(self, index: int) -> PathPoint: ...
    @overload
    def __getitem__(self, index: slice) -> list[PathPoint]: ...
    def __getitem__(self, index: int | slice) -> PathPoint | list[PathPoint]:
        """Return a place, or some of them."""
        if isinstance(index, slice):
            return [self[i] for i in range(*index.indices(len(self)))]
        i = range(len(self))[index]
        held = self._holds[self._held[i]]
        at_s, x, y, z = self._numbers[4 * i : 4 * i + 4]
        return PathPoint(
            self._lines[i], held.tool, at_s, x, y, z, held.long, held.wide, _WAYS[self._ways[i]], held.holder
        )

    def __eq__(self, other: object) -> bool:
        """Whether it goes the same way."""
        if not isinstance(other, Path):
            return NotImplemented
        mine = (self._lines, self._held, self._ways, self._numbers, self._holds)
        return mine == (other._lines, other._held, other._ways, other._numbers, other._holds)

    __hash__ = None  # type: ignore[assignment]

    def _table(self) -> Floats:
        table: Floats = np.frombuffer(self._numbers, dtype=float).reshape(-1, 4)
        return table
