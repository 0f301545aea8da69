"""A mill that moves, triggers, warms up and remembers what it touched."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from nonna.programs.boxes import Box, entry
from nonna.programs.drive import Position, Trip
from nonna.programs.hanging import Part, parts
from nonna.programs.oriented import edge_at_pad
from nonna.shop.machine import Machine, Tools
from nonna.standin.path import InSpindle, Path
from nonna.standin.truth import Body, Truth

EDGE_MM = 0.8  #: a tool whose axis stands further off the pad's middle is touched at its edge
EDGE_SHARE = 0.5  #: ... or, on a tool with a narrow flat, further than this share of the flat's radius
SETTER = "the setter"
ORIENT_S = 1.5  #: to stop, turn to an angle and lock
_NOTHING = Body(0.0, 40.0)  # the bare spindle face


@dataclass(frozen=True, slots=True)
class Contact:
    """One touch."""

    line: int
    tool: int
    position: Position
    feed_mm_min: float
    face: str
    what: str = "setter"  #: or the obstacle's name
    rpm: float = 0.0
    probed: bool = True  #: False: it was hit by a move that was no search
    edge: int = 0  #: the one edge of several that was turned to it


@dataclass(frozen=True, slots=True)
class Problem:
    """Something that must not happen on a real machine."""

    code: str
    severity: str
    line: int
    tool: int
    message: str


_NOWHERE = Box((0.0, 0.0, -1e9), (0.0, 0.0, -1e9))  #: no part of it is met


class Mill:
    """A stand-in mill; implements `nonna.programs.drive.Drive`. With ``trace`` it remembers its path."""

    def __init__(self, machine: Machine, truth: Truth, tools: Tools, run_seed: int = 0, *, trace: bool = False) -> None:
        self._machine, self._truth, self._tools = machine, truth, tools
        self._dice = np.random.default_rng([run_seed, 3])
        travel = machine.travel_mm
        self._position: Position = (sum(travel.x) / 2, sum(travel.y) / 2, machine.tool_change_z_mm)
        self._clock = 0.0
        self._tool = 0
        nose = machine.spindle
        self._bare = Body(0.0, nose.nose_diameter_mm) if nose is not None else _NOTHING
        self._held = truth.bodies.get(0, self._bare)
        self._turning, self._rpm = 0, 0.0
        self._angle: float | None = None  #: held there
        rapid, slow = machine.rapid_mm_min, machine.acceleration_mm_s2
        self._fast, self._slow = (rapid.xy / 60.0, rapid.z / 60.0), (slow.xy, slow.z)  # read at every move
        self._ceiling = self._highest()
        self._boxed: tuple[Body, float, Box] | None = None
        self._walled: tuple[Body, list[tuple[Part, str, Box]]] | None = None
        self.contacts: list[Contact] = []
        self.problems: list[Problem] = []
        self.path = Path()
        self._trace = trace
        self._mark(0, "change")

    @property
    def tool(self) -> int:
        """What is in the spindle."""
        return self._tool

    @property
    def position(self) -> Position:
        """Where the gauge line is."""
        return self._position

    @property
    def clock_s(self) -> float:
        """Machine seconds since the start."""
        return self._clock

    def move(self, target: Position, feed_mm_min: float | None, line: int) -> None:
        """Move straight; touching anything is a problem."""
        self._check_travel(target, line)
        high = self._ceiling < self._position[2] and self._ceiling < target[2]  # far above the setter, as mostly
        box = _NOWHERE if high else self._box()
        hit = None if high else entry(self._position, target, box)
        wall = self._into_obstacle(target)
        if wall is not None and hit is not None and wall[2] == SETTER and wall[0] >= hit[0]:
            wall = None  # the tip was there before
        if wall is not None:
            self._problem("collision", line, f"{wall[1]} runs into {wall[2]}")
            if feed_mm_min is None:
                self._problem("rapid-contact", line, f"at rapid, into {wall[2]}")
            self._hit(wall[0], target, feed_mm_min, line, "", wall[2])
        if hit is not None:
            code = "rapid-contact" if feed_mm_min is None else "collision"
            self._problem(code, line, f"the tool runs into the setter ({hit[1]})")
            self._hit(hit[0], target, feed_mm_min, line, hit[1], "setter")
        elif not high and box.depth(target) > 0.0:
            if feed_mm_min is None and box.depth(target) > box.depth(self._position) + 1e-6:
                self._problem("rapid-contact", line, "a rapid pushes further into the setter")
            if box.depth(target) > self._overtravel:
                self._problem("overtravel", line, "the setter is pushed past its overtravel")
        self._clock += self._seconds(target, feed_mm_min)
        self._position = target
        self._mark(line, "rapid" if feed_mm_min is None else "feed")

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Move until the setter triggers, with all that a real trigger has: pre-travel, scatter, lateness."""
        self._check_travel(target, line)
        hit = entry(self._position, target, self._box())
        distance = math.dist(self._position, target)
        wall = self._into_obstacle(target)
        if wall is not None and (hit is None or wall[0] < hit[0]):
            self._problem("collision", line, f"{wall[1]} runs into {wall[2]} while searching")
            self._hit(wall[0], target, feed_mm_min, line, "", wall[2])
        if hit is None or distance == 0.0:
            self._clock += self._seconds(target, feed_mm_min)
            self._position = target
            self._mark(line, "probe")
            return None
        self._check_turning(hit[1], line)
        v = feed_mm_min / 60.0
        jitter = float(self._dice.normal(0.0, 1.0)) * self._machine.trigger_jitter_s
        late = (self._machine.trigger_latency_s + jitter) * v
        scatter = float(self._dice.normal(0.0, 1.0)) * self._truth.repeatability
        if self._rpm:  # the longest edge passes once a turn
            scatter += float(self._dice.uniform(0.0, feed_mm_min / self._rpm))
        seen = hit[0] * distance + self._truth.pre_travel + late + scatter
        brake = v * v / (2.0 * self._machine.acceleration_mm_s2.z)
        trip, stopped = self._along(target, seen / distance), self._along(target, (seen + brake) / distance)
        self._clock += self._seconds(stopped, feed_mm_min)
        edge = self._edge() if self._held.tool is not None and self._held.kind != "boring-bar" else 0
        self.contacts.append(Contact(line, self._tool, trip, feed_mm_min, hit[1], "setter", self._rpm, edge=edge))
        self._position = stopped
        self._mark(line, "probe")
        if self._box().depth(stopped) > self._overtravel:
            self._problem("overtravel", line, "the touch was too fast for the setter's overtravel")
        r = self._truth.resolution
        return Trip((round(trip[0] / r) * r, round(trip[1] / r) * r, round(trip[2] / r) * r), stopped)

    def dwell(self, seconds: float, line: int) -> None:
        """Wait."""
        self._clock += max(0.0, seconds)

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Turn the spindle."""
        self._clock += 1.0 if direction != self._turning else 0.0
        self._angle = None
        self._turning = direction if rpm else 0
        self._rpm = rpm if self._turning else 0.0

    def orient(self, degrees: float, line: int) -> None:
        """Turn the spindle to an angle and hold it."""
        if not self._machine.spindle_orient:
            self._problem(
                "unsupported", line, f"the spindle of {self._machine.name} cannot be oriented, as its card says"
            )
        self._clock += ORIENT_S
        self._turning, self._rpm, self._angle = 0, 0.0, degrees

    def auxiliary(self, word: int, line: int) -> bool:
        """Say that it has no M words of its own."""
        return False

    def change_tool(self, number: int, line: int) -> None:
        """Change the tool."""
        self._clock += self._machine.tool_change_s
        self._angle = None
        self._tool, self._turning, self._rpm = number, 0, 0.0
        if number and number not in self._truth.bodies:  # 0 empties the spindle
            self._problem("wrong-tool", line, f"there is no tool {number} in the changer")
        elif (
            number
            and self._machine.tool_change_z_mm - self._truth.bodies[number].length < self._truth.plane
            and self._machine.setter
        ):
            self._problem(
                "tool-too-long", line, f"tool {number} reaches below the setter's pad even at the change height"
            )
        self._held = self._truth.bodies.get(number, self._bare)
        self._ceiling = self._highest()
        self._mark(line, "change")

    def tool_length(self, number: int, line: int) -> float:
        """Return the machine table's length; another tool's, or none, is a problem."""
        if number != self._tool and self._tool and number:
            self._problem("wrong-tool", line, f"the length of tool {number} is used while tool {self._tool} is held")
        if number == 0:
            return 0.0
        try:
            long = self._tools.by_number(number).length_mm
        except KeyError:
            long = None
        if long is None:
            self._problem("wrong-tool", line, f"the machine's table holds no length for tool {number}")
        return long or 0.0

    @property
    def _overtravel(self) -> float:
        return self._machine.setter.overtravel_mm if self._machine.setter else 0.0

    def _growth(self) -> float:
        if not self._truth.growth:
            return 0.0
        return self._truth.growth * (1.0 - math.exp(-self._clock / self._truth.growth_s))

    def _highest(self) -> float:
        """Above this the gauge line is clear of the setter, however warm the spindle is."""
        return self._truth.plane + self._held.length + max(self._truth.growth, 0.0)

    def _box(self) -> Box:
        """The setter as the gauge line meets it: raised by the tool's length, wider by its radius."""
        t, tip = self._truth, self._held.length + self._growth() + self._edge_back()
        if self._boxed is not None and self._boxed[0] is self._held and self._boxed[1] == tip:
            return self._boxed[2]
        low = (t.x - t.width_x / 2, t.y - t.width_y / 2, -1e6)
        high = (t.x + t.width_x / 2, t.y + t.width_y / 2, t.plane + tip)
        box = Box(low, high).grown(self._held.diameter / 2)
        self._boxed = (self._held, tip, box)
        return box

    def _offset(self) -> tuple[float, float]:
        """Spindle axis minus the pad's middle."""
        return self._position[0] - self._truth.x, self._position[1] - self._truth.y

    def _edge(self) -> int:
        """Return which edge an oriented spindle turns to the pad, 0 for none or where it is not oriented."""
        if self._angle is None or self._held.tool is None:
            return 0
        half = min(self._truth.width_x, self._truth.width_y) / 2
        return edge_at_pad(self._held.tool, self._offset(), self._angle, half)

    def _edge_back(self) -> float:
        """How far the edge over the pad stands back from the longest."""
        edge = self._edge() if self._held.edges else 0
        return self._held.edges[edge - 1] if edge else 0.0

    def _walls(self) -> list[tuple[Part, str, Box]]:
        """What must not be met as the gauge line meets it, made once for what is held: only the tip may touch the setter."""
        if self._walled is None or self._walled[0] is not self._held:
            held, t = self._held, self._truth
            hanging = parts(held.length, held.diameter, held.holder, self._machine.spindle)
            found = [
                (part, each.name, part.met(Box.between(each.box_mm))) for each in self._machine.obstacles for part in hanging
            ]  # fmt: skip
            if self._machine.setter is not None:
                low, high = (
                    (t.x - t.width_x / 2, t.y - t.width_y / 2, -1e6),
                    (t.x + t.width_x / 2, t.y + t.width_y / 2, t.plane),
                )
                found += [(part, SETTER, part.met(Box(low, high))) for part in hanging if part.foot < held.length]
            self._walled = (held, found)
        return self._walled[1]

    def _into_obstacle(self, target: Position) -> tuple[float, str, str] | None:
        """Return how far along a move something meets an obstacle first, what and which, or None."""
        first: tuple[float, str, str] | None = None
        lowest = min(self._position[2], target[2])
        for part, name, box in self._walls():
            hit = entry(self._position, target, box) if lowest < box.high[2] else None
            if hit is not None and (first is None or hit[0] < first[0]):
                first = (hit[0], part.words, name)
        return first

    def _along(self, target: Position, share: float) -> Position:
        p = self._position
        return (p[0] + (target[0] - p[0]) * share, p[1] + (target[1] - p[1]) * share, p[2] + (target[2] - p[2]) * share)

    def _seconds(self, target: Position, feed_mm_min: float | None) -> float:
        here = self._position
        dx, dy, dz = abs(target[0] - here[0]), abs(target[1] - here[1]), abs(target[2] - here[2])
        (fast, fast_z), (slow, slow_z) = self._fast, self._slow
        if feed_mm_min is None:
            return max(_ramped(math.hypot(dx, dy), fast, slow), _ramped(dz, fast_z, slow_z))
        return _ramped(math.hypot(dx, dy, dz), feed_mm_min / 60.0, min(slow, slow_z))

    def _check_travel(self, target: Position, line: int) -> None:
        travel = self._machine.travel_mm
        (x0, x1), (y0, y1), (z0, z1) = travel.x, travel.y, travel.z
        x, y, z = target
        if x0 <= x <= x1 and y0 <= y <= y1 and z0 <= z <= z1:
            return
        for axis, value, (low, high) in zip("XYZ", target, (travel.x, travel.y, travel.z), strict=True):
            if not low - 1e-6 <= value <= high + 1e-6:
                self._problem("out-of-travel", line, f"{axis} {value:.3f} is outside the travel")

    def _check_turning(self, face: str, line: int) -> None:
        """A tool touched at its centre must stand still, one touched at its edge must turn backwards."""
        off = math.hypot(*self._offset())
        near = min(EDGE_MM, EDGE_SHARE * self._held.flat / 2) if self._held.flat else EDGE_MM
        edge = (face != "+z" or off > near) and self._held.kind not in ("master", "probe")
        if not edge:
            if self._turning:
                self._problem("spindle-running", line, "the spindle turns during a touch at the tool's centre")
            return
        backwards = -1 if self._held.hand == "right" else 1
        if self._angle is not None:
            if not self._edge():
                self._problem("no-trigger", line, f"no edge of the tool is turned to the pad at {self._angle:g}°")
        elif self._held.kind == "boring-bar":
            if self._turning:
                self._problem("spindle-running", line, "a boring bar is touched standing still")
            elif self._machine.spindle_orient:
                self._problem("no-trigger", line, "the spindle is not oriented: nobody knows where the edge is")
        elif self._turning != backwards:
            how = "turns forwards" if self._turning else "stands still"
            self._problem("spinning-wrong-way", line, f"the tool {how} while its edge is touched; backwards is wanted")

    def _hit(self, share: float, target: Position, feed: float | None, line: int, face: str, what: str) -> None:
        """Note where a move ran into something."""
        at = self._along(target, share)
        rapid = self._machine.rapid_mm_min
        speed = feed if feed is not None else rapid.z if target[:2] == self._position[:2] else rapid.xy
        self.contacts.append(Contact(line, self._tool, at, speed, face, what, self._rpm, probed=False))

    def _mark(self, line: int, way: str) -> None:
        if self._trace:
            held = self._held
            self.path.add(
                line, self._clock, self._position, way, InSpindle(self._tool, held.length, held.diameter, held.holder)
            )

    def _problem(self, code: str, line: int, message: str) -> None:
        self.problems.append(Problem(code, "stop", line, self._tool, message))


def _ramped(distance: float, speed: float, acceleration: float) -> float:
    """Time for a distance from rest to rest with a trapezoidal (or triangular) speed."""
    if distance <= 0.0:
        return 0.0
    if distance < speed * speed / acceleration:
        return 2.0 * math.sqrt(distance / acceleration)
    return distance / speed + speed / acceleration
