"""A lathe that programs are rehearsed on: turret, tips, arm, chuck, part and tailstock as boxes.

Real places are millimetres from the spindle's axis (X as a radius) and from its face; positions are as the machine
shows them. Only what a program could do wrong is looked for: nothing here scatters.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.metrology.shapes.boxes import Box, entry
from nonna.procedures.shown import real_per_shown
from nonna.programs.language.drive import Position, Trip
from nonna.programs.language.errors import ProgramError
from nonna.shop.cards.machine import LatheSpec, Machine, Tool, Tools
from nonna.standin.contact import Contact, Problem
from nonna.standin.spindle import ORIENT_S, Spindle
from nonna.stations.lathe.ways import USUAL, WAYS

CLEAR_MM = 2.0  #: behind a tip nothing of its holder is looked at: the edge itself may be there
AT_FACE_MM, LEAVES_MM = 1e-6, 0.1  #: a tip that touches; what it has to back off before it goes anywhere else
TAILSTOCK_RADIUS_MM = 40.0
BEYOND_MM = 0.5  #: past the centre line a turning tip may go
FAR = 1e6


@dataclass(frozen=True, slots=True)
class Leg:
    """One straight piece of a tip's way; real places (X as a radius, Z)."""

    tool: int
    start: tuple[float, float]
    end: tuple[float, float]
    way: str  #: ``rapid``, ``feed`` or ``search``
    stopped: bool = False  #: whether the machine would have stopped here


@dataclass(frozen=True, slots=True)
class Thing:
    """Something that stands in the machine."""

    name: str
    box: Box
    cut: bool = False  #: whether a tip may enter it at feed, the spindle turning


class Lathe:
    """Fills `nonna.programs.language.drive.Drive`; keeps what was touched and what must not have happened."""

    def __init__(self, machine: Machine, spec: LatheSpec, tools: Tools) -> None:
        self._machine, self._spec = machine, spec
        self._tools = {tool.number: tool for tool in tools.tools}
        self._factor = real_per_shown("x", machine.x_shows)
        travel = machine.travel_mm
        self._position: Position = (travel.x[1], 0.0, travel.z[1])
        self._clock = 0.0
        self.tool = 0
        self._spindle = Spindle(machine)
        self.arm_out = False
        self.contacts: list[Contact] = []
        self.problems: list[Problem] = []
        self.way: list[Leg] = []

    @property
    def position(self) -> Position:
        """Where the axes stand, as shown."""
        return self._position

    @property
    def turning(self) -> int:
        """Which way the chuck turns."""
        return self._spindle.turning

    @property
    def clock_s(self) -> float:
        """Seconds since the start."""
        return self._clock

    def dwell(self, seconds: float, line: int) -> None:
        """Wait."""
        self._clock += max(0.0, seconds)

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Turn the chuck, or stop it."""
        if direction and self.arm_out:
            self._stop("spindle-running", line, "the spindle is started while the arm is out")
        wrong = self._spindle.turn(direction, rpm, self._clock, self._tools.get(self.tool))
        if wrong is not None:
            self._stop(wrong[0], line, wrong[1])

    def orient(self, degrees: float, line: int) -> None:
        """Hold the chuck at an angle."""
        self._clock += ORIENT_S
        self._spindle.orient(degrees)

    def pause(self, line: int) -> None:
        """Wait for a person, who looks before going on."""
        self._clock = self._spindle.wait_for_stop(self._clock)

    def end(self, line: int) -> None:
        """End the program."""

    def tool_length(self, number: int, line: int) -> float:
        """Refuse: a lathe's offsets go with the turret. Raises: ProgramError."""
        raise ProgramError("unsupported", "G43 is a mill's: a lathe's offsets go with the turret's station", line)

    def auxiliary(self, word: int, line: int) -> bool:
        """Swing the arm out or in, or carry out an M word that the control's card names."""
        arm = self._spec.arm
        if arm is None or word not in (arm.out_m, arm.in_m):
            control = self._machine.control
            if control is None or word not in control.m_words:
                return False
            self.pause(line)
            return True
        if not self._spindle.stands(self._clock):
            self._stop("spindle-running", line, "the arm swings while the spindle turns")
        self._clock += 2.0
        centre = (arm.x_mm, arm.z_mm)
        room = _round(centre, arm.swing_mm)
        tip = self._tip(self._position)
        if any(_meet(room, _moved(box, tip)) for _, box in self._carried()):
            self._stop("arm-no-room", line, "the turret or a tool is in the arm's way")
        self.arm_out = word == arm.out_m
        return True

    def change_tool(self, number: int, line: int) -> None:
        """Index the turret."""
        self._clock += self._machine.tool_change_s
        if number not in self._tools:
            self._stop("no-tool", line, f"T{number} is not in this turret")
            return
        room = _round(self._turret(self._position), self._spec.turret_swing_mm)
        near = next((thing for thing in self._things() if _meet(room, thing.box)), None)
        if near is not None:
            self._stop("index-too-close", line, f"the turret indexes so near that a tool meets the {near.name}")
        self.tool = number
        tip = self._tip(self._position)
        for thing in self._things():
            if any(_meet(thing.box, _moved(box, tip)) for _, box in self._carried()):
                self._stop("inside-box", line, f"T{number} would be inside the {thing.name} here")
                return

    def move(self, target: Position, feed_mm_min: float | None, line: int) -> None:
        """Move straight, at rapid or at feed."""
        self._go(target, feed_mm_min, line)

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Move until the arm triggers."""
        arm = self._spec.arm
        if arm is None or not self.arm_out:
            self._stop("arm-not-out", line, "a tip is searched for while the arm is in: it would run into the machine")
            return None
        if self.turning:
            self._stop("spindle-running", line, "a tip is searched for while the spindle turns")
        here = self._position
        moved = [axis for i, axis in enumerate("xyz") if abs(target[i] - here[i]) > 1e-9]
        if len(moved) != 1:
            self._stop("wrong-axis", line, "a search goes along one axis alone: X, or Z")
            return None
        start, end = self._tip(here), self._tip(target)
        hit = entry(start, end, self._stylus())
        if hit is None:
            self._go(target, feed_mm_min, line, search=True)
            return None
        share, face = hit
        at = _between(here, target, share)
        self._go(at, feed_mm_min, line, search=True)
        speed = feed_mm_min / 60.0 * (self._factor if moved == ["x"] else 1.0)
        slow = self._machine.acceleration_mm_s2
        runs_on = speed * self._machine.trigger_latency_s + speed**2 / (2.0 * (slow.z if moved == ["z"] else slow.xy))
        if runs_on > arm.overtravel_mm:
            self._stop(
                "overtravel",
                line,
                f"at this feed it runs {runs_on:.1f} mm on, and the arm gives {arm.overtravel_mm:g} mm",
            )
        tool = self._tools.get(self.tool)
        faces = WAYS[tool.edge].faces if tool is not None and tool.edge in WAYS else ()
        if face not in faces:
            named = " and ".join(faces) or "none"
            self._stop("wrong-face", line, f"T{self.tool} touches the {face} face, and its edges look at {named}")
        self.contacts.append(Contact(line, self.tool, at, feed_mm_min, face, "arm"))
        return Trip(at, at)

    def _go(self, target: Position, feed: float | None, line: int, *, search: bool = False) -> None:
        here, self._position = self._position, target
        self._time(here, target, feed)
        travel = self._machine.travel_mm
        for i, (axis, ends) in enumerate((("X", travel.x), ("Y", travel.y), ("Z", travel.z))):
            if not ends[0] - 1e-6 <= target[i] <= ends[1] + 1e-6:
                self._stop(
                    "outside-travel", line, f"{axis} {target[i]:.3f} is outside the travel, {ends[0]:g} to {ends[1]:g}"
                )
                return
        tool = self._tools.get(self.tool)
        start, end = self._tip(here), self._tip(target)
        cuts = WAYS.get(tool.edge, WAYS[USUAL]) if tool is not None else None
        if cuts is not None and not (cuts.is_bar or cuts.is_round) and end[0] < -BEYOND_MM:
            self._stop("beyond-centre", line, f"the tip goes {-end[0]:.2f} mm beyond the centre line")
        self._within(start, end, feed, line, cuts is not None and cuts.on_centre_line)
        first: tuple[float, Thing] | None = None
        for thing in self._things():
            for cutting, body in self._carried():
                if body is _POINT and search and thing.name == "arm":
                    continue  # that is what it is there for
                if cutting and thing.cut and feed is not None and self.turning:
                    continue  # it cuts
                found = _met(start, end, _around(thing.box, body))
                if found is not None and (first is None or found[0] < first[0]):
                    first = (found[0], thing)
        if first is not None:
            code = "rapid-contact" if feed is None else "collision"
            self._stop(
                code, line, f"the turret or its tool meets the {first[1].name}{' at rapid' if feed is None else ''}"
            )

        way = "search" if search else "rapid" if feed is None else "feed"
        self.way.append(Leg(self.tool, (start[0], start[2]), (end[0], end[2]), way, bool(self.problems)))

    def _within(self, start: Position, end: Position, feed: float | None, line: int, drills: bool) -> None:
        """A tip that is in the part goes straight out of it at rapid, a drill along its axis alone."""
        part = next((thing for thing in self._things() if thing.cut), None)
        if part is None or part.box.depth(start) <= LEAVES_MM:
            return
        if drills and math.hypot(end[0] - start[0], end[1] - start[1]) > LEAVES_MM:
            self._stop("collision", line, "the drill is moved sideways while it is in the part")
        elif feed is None:
            bar = Box((*part.box.low[:2], -FAR), part.box.high)  # towards the chuck there is no way out
            deepest = max(bar.depth(_between(start, end, i / 16.0)) for i in range(1, 17))
            if deepest > bar.depth(start) + LEAVES_MM:
                self._stop("rapid-contact", line, "the tip goes deeper into the part at rapid")

    def _time(self, here: Position, target: Position, feed: float | None) -> None:
        way = math.dist((here[0] * self._factor, *here[1:]), (target[0] * self._factor, *target[1:]))
        self._clock += way / ((self._machine.rapid_mm_min.xy if feed is None else feed) / 60.0)

    def _tip(self, at: Position) -> Position:
        """Return where the tip really is; the turret's face where there is no tool."""
        tool = self._tools.get(self.tool)
        if tool is None:
            x, z = self._turret(at)
            return (x, at[1], z)
        return ((at[0] + (tool.offset_x_mm or 0.0)) * self._factor, at[1], at[2] + (tool.offset_z_mm or 0.0))

    def _turret(self, at: Position) -> tuple[float, float]:
        return (at[0] * self._factor + self._spec.turret_x_mm, at[2] + self._spec.turret_z_mm)

    def _carried(self) -> Iterator[tuple[bool, Box]]:
        """Yield what moves, as boxes about the tip, the tip itself first: whether it may be in what it cuts, and its
        box.
        """
        tool = self._tools.get(self.tool)
        x, _, z = self._tip((0.0, 0.0, 0.0))
        face = (self._spec.turret_x_mm - x, self._spec.turret_z_mm - z)
        yield True, _POINT
        r = self._spec.turret_radius_mm
        yield False, _box((face[0] - r, face[1]), (face[0] + r, face[1] + r), r)
        if tool is not None:
            way = WAYS.get(tool.edge, WAYS[USUAL])
            yield way.is_bar, _holder(tool, face)  # a bar or a drill follows its edge into the bore

    def everything(self) -> tuple[Thing, ...]:
        """Return what stands in the machine, the arm swung out."""
        return tuple(self._things(arm_out=True))

    def _things(self, *, arm_out: bool | None = None) -> Iterator[Thing]:
        spec, out = self._spec, self.arm_out if arm_out is None else arm_out
        r, long = spec.chuck_radius_mm, spec.chuck_length_mm
        yield Thing("chuck", _box((-r, -FAR), (r, long), r))
        if spec.part_length_mm:
            end = spec.chuck_length_mm + spec.part_length_mm
            r = spec.part_radius_mm
            yield Thing("part", _box((-r, long), (r, end), r), cut=True)
        if spec.tailstock_z_mm is not None:
            r = TAILSTOCK_RADIUS_MM
            yield Thing("tailstock", _box((-r, spec.tailstock_z_mm), (r, FAR), r))
        if spec.arm is not None and out:
            yield Thing("arm", self._stylus())

    def _stylus(self) -> Box:
        arm = self._spec.arm
        if arm is None:
            raise NonnaError("missing-field", "There is no arm.", "machine.lathe.arm")
        half = arm.width_mm / 2.0
        return _box((arm.x_mm - half, arm.z_mm - half), (arm.x_mm + half, arm.z_mm + half), half)

    def _stop(self, code: str, line: int, words: str) -> None:
        self.problems.append(Problem(code, "stop", line, self.tool, words))


def _holder(tool: Tool, face: tuple[float, float]) -> Box:
    """Return a tool's shank or bar about its tip, up to the turret's face; clear of the edge itself."""
    way, wide, half = WAYS.get(tool.edge, WAYS[USUAL]), tool.diameter_mm, tool.diameter_mm / 2.0
    if way.is_bar:
        left, right = (-half, half) if way.is_round else (-wide, -CLEAR_MM)
        return _box((left, CLEAR_MM), (right, max(face[1], CLEAR_MM + 1.0)), half)
    both = way.is_round or not way.z_face  # it cuts to both sides
    low, high = (-half, half) if both else (-wide, -CLEAR_MM) if way.behind else (CLEAR_MM, wide)
    return _box((CLEAR_MM, low), (max(face[0], CLEAR_MM + 1.0), high), wide)


def _box(low: tuple[float, float], high: tuple[float, float], half_y: float = 0.0) -> Box:
    """Return a box in X and Z that reaches so far to either side in Y."""
    return Box((low[0], -half_y, low[1]), (high[0], half_y, high[1]))


_POINT = _box((0.0, 0.0), (0.0, 0.0))  #: a tip


def _round(centre: tuple[float, float], radius: float) -> Box:
    """Return the box round a circle, without end in Y."""
    return _box((centre[0] - radius, centre[1] - radius), (centre[0] + radius, centre[1] + radius), FAR)


def _around(thing: Box, body: Box) -> Box:
    """Return a thing made so much larger that the body about a tip becomes the tip's own point."""
    low = tuple(thing.low[i] - body.high[i] for i in range(3))
    high = tuple(thing.high[i] - body.low[i] for i in range(3))
    return Box((low[0], low[1], low[2]), (high[0], high[1], high[2]))


def _met(start: Position, end: Position, box: Box) -> tuple[float, str] | None:
    """Return where a move meets a box; one that begins at its face meets it at once where it does not leave it."""
    way = math.dist(start, end)
    if way > 0.0 and abs(box.depth(start)) <= AT_FACE_MM:
        near = _between(start, end, min(1.0, LEAVES_MM / way))
        if box.depth(near) > -LEAVES_MM / 2.0:
            return 0.0, ""
    return entry(start, end, box)


def _moved(body: Box, tip: Position) -> Box:
    low = tuple(body.low[i] + tip[i] for i in range(3))
    high = tuple(body.high[i] + tip[i] for i in range(3))
    return Box((low[0], low[1], low[2]), (high[0], high[1], high[2]))


def _meet(a: Box, b: Box) -> bool:
    return all(a.low[i] < b.high[i] and b.low[i] < a.high[i] for i in range(3))


def _between(a: Position, b: Position, share: float) -> Position:
    return (a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share, a[2] + (b[2] - a[2]) * share)
