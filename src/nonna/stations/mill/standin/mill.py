"""A mill that moves, triggers, warms up and remembers what it touched."""

from __future__ import annotations

import math

import numpy as np

from nonna.metrology.turning import touched_after
from nonna.programs.language.drive import Position, Trip
from nonna.shop.cards.machine import Machine, Tools
from nonna.shop.cards.standing import SETTER
from nonna.standin.bodies import Body
from nonna.standin.contact import Contact, Problem
from nonna.standin.path import InSpindle, Path
from nonna.standin.spindle import ORIENT_S, Spindle
from nonna.stations.mill.planning.oriented import edge_at_pad
from nonna.stations.mill.standin.solids import Solids
from nonna.stations.mill.standin.truth import Truth

EDGE_MM = 0.8  #: a tool whose axis stands further off the pad's middle is touched at its edge
EDGE_SHARE = 0.5  #: ... or, on a tool with a narrow flat, further than this share of the flat's radius
WRONG_END_MM = 0.01  #: so far from its tip, or from its full width, a touch is none of what is meant
ALONG_MM = 1e-6  #: what a way off the sensor may stray
_NOTHING = Body(0.0, 40.0)  # the bare spindle face


class Mill:
    """A stand-in mill; implements `nonna.programs.language.drive.Drive`. With ``trace`` it remembers its path."""

    def __init__(self, machine: Machine, truth: Truth, tools: Tools, run_seed: int = 0, *, trace: bool = False) -> None:
        self._machine, self._truth, self._tools = machine, truth, tools
        self._dice = np.random.default_rng([run_seed, 3])
        travel = machine.travel_mm
        self._position: Position = (sum(travel.x) / 2, sum(travel.y) / 2, machine.tool_change_z_mm)
        self._clock = 0.0
        self._tool = 0
        nose = machine.spindle
        self._bare = Body(0.0, nose.nose_diameter_mm, bore=nose.bore_mm) if nose is not None else _NOTHING
        self._held = truth.bodies.get(0, self._bare)
        self._spindle, self._solids = Spindle(machine), Solids(machine, truth)
        rapid, slow = machine.rapid_mm_min, machine.acceleration_mm_s2
        self._fast, self._slow = (rapid.xy / 60.0, rapid.z / 60.0), (slow.xy, slow.z)  # read at every move
        self._m_words = machine.control.m_words if machine.control is not None else frozenset[int]()
        self._pressed: tuple[int, float] | None = None  #: the axis a touch came along, and which way leads off
        self._asked = False  #: whether a person was asked since the last change
        self.contacts: list[Contact] = []
        self.problems: list[Problem] = []
        self.path = Path()
        self._trace = trace
        self._ceiling = self._highest()
        self._look_inside(0)
        self._mark(0, "change")

    @property
    def machine(self) -> Machine:
        """Which mill it is, as its papers have it."""
        return self._machine

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
        if self._pressed is not None:
            self._leave(target, line)
        here = self._position
        high = self._ceiling < here[2] and self._ceiling < target[2]  # far above everything, as mostly
        if not high:
            self._meet(here, target, feed_mm_min, line)
        self._clock += self._seconds(target, feed_mm_min)
        self._position = target
        self._mark(line, "rapid" if feed_mm_min is None else "feed")

    def _meet(self, here: Position, target: Position, feed: float | None, line: int) -> None:
        """Say what a move runs into."""
        tip = self._tip()
        hit = self._solids.touch(self._held, here, target, tip)
        wall = self._solids.wall(self._held, here, target)
        if wall is not None and hit is not None and wall[2] == SETTER and wall[0] >= hit[0]:
            wall = None  # the tip was there before
        if wall is not None:
            self._problem("collision", line, f"{wall[1]} runs into {wall[2]}")
            if feed is None:
                self._problem("rapid-contact", line, f"at rapid, into {wall[2]}")
            self._hit(wall[0], target, feed, line, "", wall[2])
        if hit is not None:
            code = "rapid-contact" if feed is None else "collision"
            self._problem(code, line, f"the tool runs into the setter ({hit[1] or 'from within its hollow'})")
            self._hit(hit[0], target, feed, line, hit[1], "setter")
            return
        deep = self._solids.depth(self._held, target, tip)
        if deep > 0.0:
            if feed is None and deep > self._solids.depth(self._held, here, tip) + ALONG_MM:
                self._problem("rapid-contact", line, "a rapid pushes further into the setter")
            if deep > self._overtravel:
                self._problem("overtravel", line, "the setter is pushed past its overtravel")

    def _leave(self, target: Position, line: int) -> None:
        """A tool that presses the sensor goes straight off it, the way it came, before anything else."""
        if self._pressed is None:
            return
        axis, off = self._pressed
        way = [b - a for a, b in zip(self._position, target, strict=True)]
        if any(abs(way[i]) > ALONG_MM for i in range(3) if i != axis):
            self._problem("sideways-touch", line, "it moves sideways while it still presses the sensor")
        elif way[axis] * off < 0.0:
            self._problem("collision", line, "it pushes further into the sensor it already presses")
        if self._solids.depth(self._held, target, self._tip()) <= 0.0:
            self._pressed = None

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Move until the setter triggers, with all that a real trigger has: pre-travel, scatter, lateness."""
        self._check_travel(target, line)
        if self._pressed is not None:
            self._problem("sideways-touch", line, "a search begins while the sensor is still pressed")
        here, tip = self._position, self._tip()
        hit = self._solids.touch(self._held, here, target, tip)
        distance = math.dist(here, target)
        wall = self._solids.wall(self._held, here, target)
        if wall is not None and (hit is None or wall[0] < hit[0]):
            self._problem("collision", line, f"{wall[1]} runs into {wall[2]} while searching")
            self._hit(wall[0], target, feed_mm_min, line, "", wall[2])
        if hit is None or distance == 0.0:
            self._clock += self._seconds(target, feed_mm_min)
            self._position = target
            if self._solids.swallowed(self._held, target, tip):
                self._problem("wrong-end", line, "it is open in its middle, and the pad went up into it")
            self._mark(line, "probe")
            return None
        self._check_end(hit, here, target, line)
        self._check_turning(hit[1], line)
        v = feed_mm_min / 60.0
        jitter = float(self._dice.normal(0.0, 1.0)) * self._machine.trigger_jitter_s
        late = (self._machine.trigger_latency_s + jitter) * v
        scatter = float(self._dice.normal(0.0, 1.0)) * self._truth.repeatability
        rpm = self._spindle.rpm
        if rpm:
            scatter += float(touched_after(feed_mm_min / rpm, self._held.passing, [self._dice.uniform()])[0])
        seen = hit[0] * distance + self._truth.pre_travel + late + scatter
        brakes = self._machine.acceleration_mm_s2
        brake = v * v / (2.0 * (brakes.z if hit[1] == "+z" else brakes.xy))
        trip, stopped = self._along(target, seen / distance), self._along(target, (seen + brake) / distance)
        self._clock += self._seconds(stopped, feed_mm_min)
        edge = self._edge() if self._held.tool is not None and self._held.kind != "boring-bar" else 0
        self.contacts.append(Contact(line, self._tool, trip, feed_mm_min, hit[1], "setter", rpm, edge=edge))
        self._position = stopped
        self._mark(line, "probe")
        deep = self._solids.depth(self._held, stopped, self._tip())
        if deep > self._overtravel:
            self._problem("overtravel", line, "the touch was too fast for the setter's overtravel")
        if deep > 0.0:
            axis = max(range(3), key=lambda i: abs(target[i] - here[i]))
            self._pressed = (axis, math.copysign(1.0, here[axis] - target[axis]))
        r = self._truth.resolution
        return Trip((round(trip[0] / r) * r, round(trip[1] / r) * r, round(trip[2] / r) * r), stopped)

    def dwell(self, seconds: float, line: int) -> None:
        """Wait."""
        self._clock += max(0.0, seconds)

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Turn the spindle."""
        self._clock += 1.0 if direction and direction != self._spindle.turning else 0.0
        wrong = self._spindle.turn(direction, rpm, self._clock, self._held.tool)
        if wrong is not None:
            self._problem(wrong[0], line, wrong[1])

    def orient(self, degrees: float, line: int) -> None:
        """Turn the spindle to an angle and hold it."""
        if not self._machine.spindle_orient:
            self._problem(
                "unsupported", line, f"the spindle of {self._machine.name} cannot be oriented, as its card says"
            )
        self._clock += ORIENT_S
        self._spindle.orient(degrees)

    def pause(self, line: int) -> None:
        """Wait for a person, who looks before going on."""
        self._clock, self._asked = self._spindle.wait_for_stop(self._clock), True

    def end(self, line: int) -> None:
        """End the program; the next one would begin here."""
        if self._pressed is not None:
            self._problem("sideways-touch", line, "the program ends while the sensor is still pressed")

    def auxiliary(self, word: int, line: int) -> bool:
        """Carry out an M word that its card names: whatever it is for, the spindle stands behind one that waits for
        it.
        """
        if word not in self._m_words:
            return False
        self._clock = self._spindle.wait_for_stop(self._clock)
        return True

    def change_tool(self, number: int, line: int) -> None:
        """Change the tool where the spindle stands."""
        if self._pressed is not None:
            self._problem("sideways-touch", line, "the tool is changed while it still presses the sensor")
        if self._spindle.turning and not self._machine.pocket_count:
            self._problem("change-while-turning", line, "a tool is changed by hand while the spindle turns")
        self._clock += self._machine.tool_change_s
        self._spindle.halt()
        self._tool, self._pressed, self._asked = number, None, False
        bodies, pockets = self._truth.bodies, self._machine.pocket_count
        if number > pockets > 0 and self._machine.kind == "router":
            words = f"there is no pocket for T{number}: {self._machine.name} has {pockets:g}"
            self._problem("no-such-tool", line, words)
        elif number and number not in bodies:  # 0 empties the spindle
            self._problem("wrong-tool", line, f"there is no tool {number} in the changer")
        elif (
            number
            and self._machine.tool_change_z_mm - bodies[number].length < self._truth.plane
            and self._machine.setter
        ):
            self._problem(
                "tool-too-long", line, f"tool {number} reaches below the setter's pad even at the change height"
            )
        self._held = bodies.get(number, self._bare)
        self._ceiling = self._highest()
        self._look_inside(line)
        self._mark(line, "change")

    def _look_inside(self, line: int) -> None:
        """What is put into the spindle must not find anything standing where it hangs."""
        if self._position[2] < self._ceiling:
            met = self._solids.inside(self._held, self._position, self._tip())
            if met is not None:
                self._problem("inside-box", line, f"{met[0]} would be inside {met[1]} here")

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
        """Above this the gauge line is clear of everything, however warm the spindle is."""
        return self._solids.ceiling(self._held, max(self._truth.growth, 0.0))

    def _tip(self) -> float:
        """How far below the gauge line the tip is."""
        return self._held.length + self._growth() + self._edge_back()

    def _offset(self) -> tuple[float, float]:
        """Spindle axis minus the pad's middle."""
        return self._position[0] - self._truth.x, self._position[1] - self._truth.y

    def _edge(self) -> int:
        """Return which edge an oriented spindle turns to the pad, 0 for none or where it is not oriented."""
        angle = self._spindle.angle
        if angle is None or self._held.tool is None:
            return 0
        half = min(self._truth.width_x, self._truth.width_y) / 2
        return edge_at_pad(self._held.tool, self._offset(), angle, half)

    def _edge_back(self) -> float:
        """How far the edge over the pad stands back from the longest."""
        edge = self._edge() if self._held.edges else 0
        return self._held.edges[edge - 1] if edge else 0.0

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

    def _check_end(self, hit: tuple[float, str], start: Position, target: Position, line: int) -> None:
        """The sensor must be met by what is measured: the tip from above, the full width from the side, never on a
        slant.
        """
        moved = [i for i in range(3) if abs(target[i] - start[i]) > ALONG_MM]
        if len(moved) != 1:
            self._problem("sideways-touch", line, "the sensor is met on a slant: a search goes along one axis alone")
            return
        end, at = self._held.end, self._along(target, hit[0])
        if hit[1] == "+z":
            above = self._solids.lifted(self._held, at)
            if abs(above) > WRONG_END_MM:
                words = (
                    f"{above:.2f} mm above its tip" if above > 0.0 else "at something that stands out below its edges"
                )
                self._problem("wrong-end", line, f"the pad meets it {words}: that is not its length")
        elif hit[1]:
            wide = end.reach(self._truth.plane - (at[2] - self._tip()))
            if end.outer - wide > WRONG_END_MM:
                words = f"it is touched on its corner or point, {2.0 * wide:.2f} mm wide there"
                self._problem("wrong-end", line, f"{words}: that is not its diameter")

    def _check_turning(self, face: str, line: int) -> None:
        """A tool touched at its centre must stand still, one touched at its edge must turn backwards."""
        held, spindle = self._held, self._spindle
        off = math.hypot(*self._offset())
        near = min(EDGE_MM, EDGE_SHARE * held.flat / 2) if held.flat else EDGE_MM
        edge = (face != "+z" or (off > near and not held.end.pointed)) and held.kind not in ("master", "probe")
        if not spindle.turning and not spindle.stands(self._clock):
            self._problem(
                "spindle-running", line, "the spindle is touched before it has run down: wait until it stands"
            )
        elif not edge:
            if spindle.turning:
                self._problem("spindle-running", line, "the spindle turns during a touch at the tool's centre")
        elif spindle.angle is not None:
            if not self._edge():
                self._problem("no-trigger", line, f"no edge of the tool is turned to the pad at {spindle.angle:g}°")
        elif held.kind == "boring-bar":
            if spindle.turning:
                self._problem("spindle-running", line, "a boring bar is touched standing still")
            elif self._machine.spindle_orient or not self._asked:
                self._problem("no-trigger", line, "the spindle is not oriented: nobody knows where the edge is")
        elif spindle.turning != (-1 if held.hand == "right" else 1):
            how = "turns forwards" if spindle.turning else "stands still"
            self._problem("spinning-wrong-way", line, f"the tool {how} while its edge is touched; backwards is wanted")

    def _hit(self, share: float, target: Position, feed: float | None, line: int, face: str, what: str) -> None:
        """Note where a move ran into something."""
        at = self._along(target, share)
        rapid = self._machine.rapid_mm_min
        speed = feed if feed is not None else rapid.z if target[:2] == self._position[:2] else rapid.xy
        self.contacts.append(Contact(line, self._tool, at, speed, face, what, self._spindle.rpm, probed=False))

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
