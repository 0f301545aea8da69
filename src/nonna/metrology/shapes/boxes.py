"""Where a straight move enters a box."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeAlias

Position: TypeAlias = tuple[float, float, float]  #: X, Y, Z, mm


@dataclass(frozen=True, slots=True)
class Box:
    """An upright box, mm."""

    low: Position
    high: Position

    @classmethod
    def between(cls, corners: Sequence[Sequence[float]]) -> Box:
        """Make the box between two opposite corners, given in any order."""
        a, b = corners
        low = (min(a[0], b[0]), min(a[1], b[1]), min(a[2], b[2]))
        return cls(low, (max(a[0], b[0]), max(a[1], b[1]), max(a[2], b[2])))

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


@dataclass(frozen=True, slots=True)
class Post:
    """An upright prism with round edges: all within ``radius`` of a rectangle, seen from above; mm."""

    core: Box
    radius: float = 0.0

    def grown(self, radius: float) -> Post:
        """Return it so much wider, so that an upright cylinder of that radius becomes a line."""
        return Post(self.core, self.radius + radius)

    def raised(self, low: float, high: float) -> Post:
        """Return it between other heights."""
        a, b = self.core.low, self.core.high
        return Post(Box((a[0], a[1], low), (b[0], b[1], high)), self.radius)

    def away(self, x: float, y: float) -> float:
        """Return how far beside it a place is, seen from above; negative: how far within its edge."""
        low, high = self.core.low, self.core.high
        dx, dy = max(low[0] - x, x - high[0]), max(low[1] - y, y - high[1])
        if dx > 0.0 or dy > 0.0:
            return math.hypot(max(dx, 0.0), max(dy, 0.0)) - self.radius
        return max(dx, dy) - self.radius

    def farthest(self, x: float, y: float) -> float:
        """Return how far from a place its farthest edge is, seen from above."""
        low, high = self.core.low, self.core.high
        dx, dy = max(x - low[0], high[0] - x), max(y - low[1], high[1] - y)
        return math.hypot(dx, dy) + self.radius

    def depth(self, p: Position) -> float:
        """Return how far inside its nearest face a point is; negative outside."""
        return min(-self.away(p[0], p[1]), p[2] - self.core.low[2], self.core.high[2] - p[2])


def swept(start: Position, end: Position, post: Post) -> tuple[float, str] | None:
    """Return how far along a straight move (0 to 1) a point enters a post and through which face, or None.

    A move that starts inside does not enter.
    """
    r, low, high = post.radius, post.core.low, post.core.high
    least = (min(start[0], end[0]), min(start[1], end[1]), min(start[2], end[2]))
    most = (max(start[0], end[0]), max(start[1], end[1]), max(start[2], end[2]))
    if (
        least[2] >= high[2] or most[2] <= low[2] or least[0] >= high[0] + r or most[0] <= low[0] - r
        or least[1] >= high[1] + r or most[1] <= low[1] - r or post.depth(start) > 0.0
    ):  # fmt: skip
        return None
    found = [
        hit
        for hit in (
            entry(start, end, Box((low[0] - r, low[1], low[2]), (high[0] + r, high[1], high[2]))),
            entry(start, end, Box((low[0], low[1] - r, low[2]), (high[0], high[1] + r, high[2]))),
        )
        if hit is not None
    ]
    if r > 0.0:
        corners = {(x, y) for x in (low[0], high[0]) for y in (low[1], high[1])}
        found += [
            hit for x, y in corners if (hit := _round_entry(start, end, (x, y), r, (low[2], high[2]))) is not None
        ]
    return min(found, default=None)


def _round_entry(
    start: Position, end: Position, centre: tuple[float, float], r: float, heights: tuple[float, float]
) -> tuple[float, str] | None:
    """Where a move enters an upright cylinder: the later of the entry into its circle and into its heights."""
    sx, sy = start[0] - centre[0], start[1] - centre[1]
    dx, dy, dz = end[0] - start[0], end[1] - start[1], end[2] - start[2]
    a, b, c = dx * dx + dy * dy, sx * dx + sy * dy, sx * sx + sy * sy - r * r
    first, last, face = 0.0, 1.0, ""
    if a == 0.0:
        if c >= 0.0:
            return None
    else:
        root = b * b - a * c
        if root <= 0.0:
            return None
        near, far = (-b - math.sqrt(root)) / a, (-b + math.sqrt(root)) / a
        if near >= 0.0:
            x, y = sx + dx * near, sy + dy * near
            face = ("+x" if x > 0.0 else "-x") if abs(x) >= abs(y) else ("+y" if y > 0.0 else "-y")
        first, last = max(first, near), min(last, far)
    if dz == 0.0:
        if not heights[0] < start[2] < heights[1]:
            return None
    else:
        near, far = sorted(((heights[0] - start[2]) / dz, (heights[1] - start[2]) / dz))
        if near > first or (near == first and not face):
            first, face = near, "+z" if dz < 0.0 else "-z"
        last = min(last, far)
    return (first, face) if face and first < last else None
