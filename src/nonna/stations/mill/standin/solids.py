"""What hangs in the spindle against what stands on the machine: where a move meets something, and who is inside
whom.
"""

from __future__ import annotations

import math

from nonna.metrology.shapes.boxes import Post, swept
from nonna.programs.language.drive import Position
from nonna.shop.cards.hanging import Part, parts
from nonna.shop.cards.machine import Machine
from nonna.shop.cards.standing import ENDLESS, SETTER, Thing, boxes_of, column, lift, table_of
from nonna.standin.bodies import Body
from nonna.stations.mill.standin.truth import Truth

LEVEL_MM = 1e-9  #: a move that rises or falls by less is level
SLICES = 8  #: of a tool's end where it comes on a slant
INSIDE_MM = 1e-6


class Solids:
    """The setter, boxes and table of a machine as they really stand, met by whatever is held.

    ``tip`` is the length of what is held just now: grown with the spindle, less where a shorter edge is turned to the
    pad.
    """

    def __init__(self, machine: Machine, truth: Truth) -> None:
        self._machine = machine
        setter = machine.setter
        self.pad: Post | None = None
        if setter is not None:
            widths, foot = (truth.width_x, truth.width_y), truth.plane - setter.height_mm
            self.pad = column(setter.shape, (truth.x, truth.y), widths, foot, truth.plane)
        table = table_of(machine)
        self._things = (*boxes_of(machine), *((table,) if table is not None else ()))
        self._hanging: tuple[Body, list[tuple[Part, Thing]], float] | None = None

    def ceiling(self, held: Body, growth: float) -> float:
        """Return above which height of the gauge line nothing that is held meets anything."""
        tops = [thing.post.core.high[2] for thing in self._things]
        if self.pad is not None:
            tops.append(self.pad.core.high[2])
        return max(tops, default=-ENDLESS) + held.length + growth - held.end.lowest_height

    def wall(self, held: Body, start: Position, end: Position) -> tuple[float, str, str] | None:
        """Return how far along a move something meets a thing first, what and which; the tip may meet the setter."""
        lowest = min(start[2], end[2])
        first: tuple[float, str, str] | None = None
        pairs, highest = self._pairs(held)
        for part, thing in pairs if lowest < highest else ():
            post = thing.post
            if lowest < post.core.high[2] + part.foot:
                hit = swept(start, end, _met_by(post, part))
                if hit is not None and (first is None or hit[0] < first[0]):
                    first = (hit[0], part.words, thing.name)
        return first

    def inside(self, held: Body, at: Position, tip: float) -> tuple[str, str] | None:
        """Return which part stands inside which thing, None for none; the tip inside the pad counts, too."""
        pairs, highest = self._pairs(held)
        for part, thing in pairs if at[2] < highest else ():
            if _met_by(thing.post, part).depth(at) > INSIDE_MM:
                return part.words, thing.name
        return ("the tool", SETTER) if self.depth(held, at, tip) > INSIDE_MM else None

    def touch(self, held: Body, start: Position, end: Position, tip: float) -> tuple[float, str] | None:
        """Return how far along a move (0 to 1) the tool's end meets the setter and at which face, or None."""
        if self.pad is None or self.depth(held, start, tip) > 0.0:
            return None
        plane, dx, dy, dz = self.pad.core.high[2], end[0] - start[0], end[1] - start[1], end[2] - start[2]
        if dx == 0.0 and dy == 0.0:
            top = plane + tip - lift(self.pad, held.end, start[0], start[1])[0]
            return ((start[2] - top) / (start[2] - end[2]), "+z") if end[2] < top <= start[2] else None
        if self.swallowed(held, start, tip):
            return 0.0, ""  # within a hollow the way out is up
        if abs(dz) <= LEVEL_MM:
            reach = held.end.reach(plane - (start[2] - tip))
            return swept(start, end, self.pad.grown(reach).raised(-ENDLESS, ENDLESS)) if reach >= 0.0 else None
        low = held.end.lowest_height
        rise = (held.end.full_height - low) / SLICES
        hits = []
        for i in range(SLICES if rise > 0.0 else 1):
            wide = held.end.reach(low + rise * (i + 1))
            hit = swept(start, end, self.pad.grown(wide).raised(-ENDLESS, plane + tip - low - rise * i))
            if hit is not None:
                hits.append(hit)
        return min(hits, default=None)

    def lifted(self, held: Body, at: Position) -> float:
        """Return how far above its tip a tool meets the pad below a place (mm); infinite beside the pad."""
        return math.inf if self.pad is None else lift(self.pad, held.end, at[0], at[1])[0]

    def swallowed(self, held: Body, at: Position, tip: float) -> bool:
        """Whether the pad stands up into a hollow of what is held, touching nothing yet."""
        if self.pad is None or not held.end.cup_mm:
            return False
        below = self.pad.core.high[2] - (at[2] - tip)
        return below > 0.0 and self.pad.away(at[0], at[1]) < held.end.reach(below) and self.depth(held, at, tip) <= 0.0

    def depth(self, held: Body, at: Position, tip: float) -> float:
        """Return how far the setter is pushed by what is held at a place; below 0: it is free."""
        if self.pad is None:
            return -math.inf
        plane = self.pad.core.high[2]
        down = plane + tip - lift(self.pad, held.end, at[0], at[1])[0] - at[2]
        if down <= 0.0:
            return down
        reach = held.end.reach(plane - (at[2] - tip))
        return min(down, reach - self.pad.away(at[0], at[1])) if reach >= 0.0 else -math.inf

    def _pairs(self, held: Body) -> tuple[list[tuple[Part, Thing]], float]:
        """What must not meet, worked out once for what is held, and above which gauge line none of it can."""
        if self._hanging is None or self._hanging[0] is not held:
            foot = held.length - min(0.0, held.end.lowest_height)
            hanging = parts(foot, held.diameter, held.holder, self._machine.spindle)
            found = [(part, thing) for thing in self._things for part in hanging]
            if self.pad is not None:
                found += [(part, Thing(SETTER, self.pad)) for part in hanging[1:]]
            highest = max((thing.post.core.high[2] + part.foot for part, thing in found), default=-ENDLESS)
            self._hanging = (held, found, highest)
        return self._hanging[1], self._hanging[2]


def _met_by(post: Post, part: Part) -> Post:
    """Return a thing as the gauge line meets it with a part of what hangs in the spindle."""
    low, high = post.core.low[2], post.core.high[2]
    return post.grown(part.radius).raised(low + part.top, high + part.foot)
