"""Where a straight move enters a box."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.programs.drive import Position


@dataclass(frozen=True, slots=True)
class Box:
    """An upright box, mm."""

    low: Position
    high: Position

    def grown(self, radius: float) -> Box:
        """Return the box made wider in X and Y, so that a tool of that radius becomes a point."""
        return Box(
            (self.low[0] - radius, self.low[1] - radius, self.low[2]),
            (self.high[0] + radius, self.high[1] + radius, self.high[2]),
        )

    @classmethod
    def between(cls, corners: Sequence[Sequence[float]]) -> Box:
        """Make the box between two opposite corners, given in any order."""
        a, b = corners
        low = (min(a[0], b[0]), min(a[1], b[1]), min(a[2], b[2]))
        return cls(low, (max(a[0], b[0]), max(a[1], b[1]), max(a[2], b[2])))

    def from_below(self) -> Box:
        """Return the box reaching down without end, so that a way at its floor meets it."""
        return Box((self.low[0], self.low[1], self.low[2] - 1.0), self.high)

    def depth(self, p: Position) -> float:
        """Return how far inside the nearest face a point is; negative outside."""
        return min(min(p[i] - self.low[i], self.high[i] - p[i]) for i in range(3))


def entry(start: Position, end: Position, box: Box) -> tuple[float, str] | None:
    """Return how far along a move (0 to 1) it enters the box and through which face, or None.

    A move that starts inside does not enter. Method: slabs, as in any text on ray tracing.
    """
    enter, leave, face = 0.0, 1.0, ""
    for i, axis in enumerate("xyz"):
        step = end[i] - start[i]
        if step == 0.0:
            if not box.low[i] < start[i] < box.high[i]:
                return None
            continue
        near, far = (box.low[i] - start[i]) / step, (box.high[i] - start[i]) / step
        side = f"-{axis}"
        if near > far:
            near, far, side = far, near, f"+{axis}"
        if near > enter or (near == enter and not face):
            enter, face = near, side
        leave = min(leave, far)
        if enter >= leave:
            return None
    return (enter, face) if face else None
