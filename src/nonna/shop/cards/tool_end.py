"""The lower end of a tool about its axis: where which of its edges stand, how high above its lowest.

The one place that knows the shapes of ends; what is chosen, planned, rehearsed and touched on the stand-in asks here.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

from nonna.shop.cards.machine import Tool

ARC_POINTS = 24
DRILL_DEG, SPOT_DEG, CHAMFER_DEG = 118.0, 90.0, 90.0  #: of a point whose angle nobody gave
TAP_FLAT, TAP_LEAD = 0.3, 0.8  #: radius of a tap's end and how high its full crests begin, in diameters
REAMER_LEAD = 0.15  #: how high and how wide a reamer's lead is, in diameters
RIM_MM, RIM_SHARE = 12.0, 0.25  #: how wide the ring is on which inserts stand: so much, or that share of the diameter
RELIEF_SHARE = 0.15  #: radius of the relief in the middle of an end that does not cut there, in diameters
SCREW_SHARE, SCREW_LEAST_MM, SCREW_HIGH = (
    0.2,
    6.0,
    0.25,
)  #: of an arbor screw nobody measured; how far it stands out, in its diameters
BAR_BEHIND_MM = 1.5  #: the body of a boring bar above its edge
SAME_MM = 1e-9


@dataclass(frozen=True)
class ToolEnd:
    """A body of revolution from below: points (radius, height above the tip), mm, by growing radius; a step has two."""

    points: tuple[tuple[float, float], ...]
    cup_mm: float = 0.0  #: within the first point's radius: how deep it is open, 0: it is not

    @property
    def inner(self) -> float:
        """Radius of the hollow in its middle, 0 for none."""
        return self.points[0][0] if self.cup_mm else 0.0

    @property
    def outer(self) -> float:
        """Its full radius."""
        return self.points[-1][0]

    @cached_property
    def full_height(self) -> float:
        """How high above the tip it is as wide as it gets."""
        return max(0.0, min(h for r, h in self.points if r >= self.outer - SAME_MM))

    @cached_property
    def lowest_height(self) -> float:
        """Height of its lowest point: below 0 where something stands out below its edges."""
        return min(h for _, h in self.points)

    @property
    def pointed(self) -> bool:
        """Whether it is lowest in its middle alone."""
        return not self.cup_mm and len(self.points) > 1 and self.points[1][1] > self.points[0][1]

    def height(self, radius: float) -> float:
        """Return how high above the tip it begins at a radius; infinite beside it."""
        if radius > self.outer + SAME_MM:
            return math.inf
        if radius < self.points[0][0]:
            return self.cup_mm
        before = self.points[0]
        low = before[1] if radius <= before[0] + SAME_MM else math.inf
        for point in self.points[1:]:
            if before[0] - SAME_MM <= radius <= point[0] + SAME_MM:
                span = point[0] - before[0]
                share = (radius - before[0]) / span if span > SAME_MM else None
                heights = (
                    (before[1], point[1]) if share is None
                    else (before[1] + (point[1] - before[1]) * min(1.0, max(0.0, share)),)
                )  # fmt: skip
                low = min(low, *heights)
            before = point
        return low

    def lowest(self, near: float, far: float) -> tuple[float, float]:
        """Return the lowest height it has between two radii (mm), infinite beside it, and the radius where that is."""
        inside = [(h, r) for r, h in self.points if near < r < far]
        return min((self.height(near), near), (self.height(far), far), *inside)

    def reach(self, height: float) -> float:
        """Return how far from the axis it reaches up to a height above the tip, below 0 where it does not begin by
        then.
        """
        if height < self.lowest_height:
            return -1.0
        found, before = 0.0, (self.points[0][0], self.points[0][1])
        for point in self.points:
            if point[1] <= height:
                found = max(found, point[0])
            elif before[1] <= height:
                rise = point[1] - before[1]
                found = max(found, before[0] + (point[0] - before[0]) * (height - before[1]) / rise)
            before = point
        return found


@lru_cache(maxsize=4096)
def _end(kind: str, d: float, rc: float, tip: float, angle: float, hollow: bool) -> ToolEnd:
    r = d / 2.0
    if kind in ("drill", "spot-drill"):
        return ToolEnd(((0.0, 0.0), (r, r / _slope(angle or (DRILL_DEG if kind == "drill" else SPOT_DEG)))))
    if kind == "tap":
        if angle:
            return ToolEnd(((0.0, 0.0), (r, r / _slope(angle))))
        return ToolEnd(((0.0, 0.0), (TAP_FLAT * d, 0.0), (r, TAP_LEAD * d)))
    if kind == "reamer":
        lead = REAMER_LEAD * d
        return ToolEnd(((0.0, 0.0), (r - lead, 0.0), (r, lead)))
    if kind in ("ball-mill", "probe"):
        return ToolEnd(_arc(0.0, r))
    if kind == "chamfer-mill":
        flat = min(tip / 2.0, r)
        start = ((0.0, 0.0), (flat, 0.0)) if flat else ((0.0, 0.0),)
        return ToolEnd((*start, (r, (r - flat) / _slope(angle or CHAMFER_DEG))))
    if kind == "slitting-saw" or (tip and kind in ("t-slot", "dovetail")):
        screw = min(max(tip or SCREW_SHARE * d, 0.0 if tip else SCREW_LEAST_MM), 0.9 * d) / 2.0
        out = -SCREW_HIGH * 2.0 * screw
        return ToolEnd(((0.0, out), (screw, out), (screw, 0.0), (r, 0.0)))
    if kind == "boring-bar":
        edge = max(r - max(rc, 1.0), 0.0)
        return ToolEnd(((0.0, BAR_BEHIND_MM), (edge, BAR_BEHIND_MM), (edge, 0.0), (r, 0.0)))
    corner = _arc(max(r - rc, 0.0), min(rc, r)) if rc else ((r, 0.0),)
    if kind in ("face-mill", "thread-mill"):
        ring = min(RIM_MM, RIM_SHARE * d)
        inner = max(0.0, min(r - rc, r) - ring)
        return ToolEnd(((inner, 0.0), *corner) if inner < corner[0][0] else corner, 0.3 * d if inner else 0.0)
    if hollow:
        inner = min(RELIEF_SHARE * d, corner[0][0])
        return ToolEnd(((inner, 0.0), *corner) if inner < corner[0][0] else corner, 0.1 * d if inner else 0.0)
    return ToolEnd(((0.0, 0.0), *corner) if corner[0][0] else corner)


def _slope(angle: float) -> float:
    return math.tan(math.radians(min(angle, 179.9)) / 2.0)


def _arc(flat: float, rc: float) -> tuple[tuple[float, float], ...]:
    """Return a corner's quarter round from where the flat ends."""
    turns = [math.pi / 2.0 * i / ARC_POINTS for i in range(ARC_POINTS + 1)]
    return tuple((flat + rc * math.sin(t), rc * (1.0 - math.cos(t))) for t in turns)


def end_of(tool: Tool) -> ToolEnd:
    """Return a tool's lower end. A master is a plain pin; a face mill is open within the ring of its inserts."""
    hollow = not tool.centre_cutting and tool.kind not in ("master", "turning-tool")
    return _end(
        tool.kind, tool.diameter_mm, tool.corner_radius_mm, tool.tip_diameter_mm, tool.point_angle_deg, hollow
    )  # fmt: skip


def plain_end(diameter_mm: float, bore_mm: float = 0.0) -> ToolEnd:
    """Return the end of a pin, or of a nose or holder with a bore."""
    if bore_mm:
        return ToolEnd(((bore_mm / 2.0, 0.0), (diameter_mm / 2.0, 0.0)), math.inf)
    return ToolEnd(((0.0, 0.0), (diameter_mm / 2.0, 0.0)))
