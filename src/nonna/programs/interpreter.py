"""Runs blocks on a machine: the RS-274/NGC subset that measuring programs need (NIST IR 6556)."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from nonna.programs.arcs import arc
from nonna.programs.blocks import Block, Word
from nonna.programs.canned import CYCLES, Cycle, Frame, drill
from nonna.programs.drive import Drive, Position
from nonna.programs.errors import ProgramError
from nonna.programs.expressions import parameter_number, resolve
from nonna.programs.guarding import was_guarded
from nonna.programs.jumps import MOST_JUMPS
from nonna.programs.shifts import AXIS_OFFSETS, CODES, shift
from nonna.wording.lengths import MM_PER_INCH

_SKIP = 31.0
_ARCS = {2.0, 3.0}
_MOTION = {0.0, 1.0, _SKIP, 38.2, 80.0} | _ARCS | CYCLES
_PLANES = {17.0, 18.0, 19.0}
_HOMES = {28.0: 5161, 30.0: 5181}  #: parameter of the home's X, Y and Z behind it
_ACCEPTED = {40.0, 61.0, 64.0, 94.0}  # already so on every machine that measures, or without effect here
TRIP = 5061  #: X of a straight probe's position, Y and Z behind it
_ANGLES = ("r", "p", "c")  #: words that give an orientation's angle beside M19
_M_ACCEPTED = {7, 8, 9, 48, 49}
_WORK = {54.0 + i: i + 1 for i in range(6)} | {59.1: 7, 59.2: 8, 59.3: 9}
_ELSEWHERE = {  # known, but not run: said in words that help
    41.0: "cutter compensation is not followed here", 42.0: "cutter compensation is not followed here",
    33.0: "threads are not followed here", 73.0: "this drilling cycle is not followed here",
    87.0: "boring from below is not followed here", 88.0: "a bore that stops for the hand is not followed here",
}  # fmt: skip
_NO_CODES, _STRAIGHT = set[float](), {0.0, 1.0}
_AXES = {"x", "y", "z"}
_ROUND = _AXES | {"i", "j", "r"}
_GROUPS: dict[float, str] = dict.fromkeys(_MOTION, "motion") | dict.fromkeys(_WORK, "work offset")
_GROUPS |= {
    17.0: "plane",
    18.0: "plane",
    19.0: "plane",
    98.0: "retract",
    99.0: "retract",
    20.0: "units",
    21.0: "units",
    90.0: "distance",
    91.0: "distance",
    43.0: "length offset",
    49.0: "length offset",
}


@dataclass(slots=True)
class ControlState:
    """The modes of the machine as the program has set them."""

    parameters: dict[int, float] = field(default_factory=lambda: {5220: 1.0})
    scale: float = 1.0  #: millimetres a program unit
    unit_factor: float = 1.0
    skip: int = 0
    missed: list[int] = field(default_factory=list)  #: lines of skip moves that never triggered
    began: Position = (0.0, 0.0, 0.0)  #: where the last of them began, as the program counts
    absolute: bool = True
    motion: float = 80.0
    feed: float = 0.0  #: mm a minute
    rpm: float = 0.0
    turning: int = 0
    tool_wanted: int = 0
    tool: int = 0
    length_offset: float = 0.0
    plane: float = 17.0
    cycle: Cycle = field(default_factory=Cycle)
    frame: Position | None = None  #: work offset with the length offset, kept from one plain move to the next
    ended: bool = False

    @property
    def origin(self) -> Position:
        """Work offset of the active coordinate system, mm."""
        p, scale = self.parameters, self.scale
        base = 5201 + 20 * int(p[5220])
        x, y, z = p.get(base, 0.0), p.get(base + 1, 0.0), p.get(base + 2, 0.0)
        if AXIS_OFFSETS in p or AXIS_OFFSETS + 1 in p or AXIS_OFFSETS + 2 in p:
            x, y, z = (v + p.get(AXIS_OFFSETS + i, 0.0) for i, v in enumerate((x, y, z)))
        return (x * scale, y * scale, z * scale)


Progress = Callable[[Block], None]


def run(
    blocks: Iterable[Block],
    drive: Drive,
    progress: Progress | None = None,
    unit_factor: float = 1.0,
    skip: int = 0,
    state: ControlState | None = None,
) -> ControlState:
    """Run a program to its end and return the state it leaves, parameters included.

    ``progress`` is called before each block; what it raises stops the run. ``unit_factor`` reads every length so many times
    as long, to try whether a program was written in the other unit. ``skip`` is the parameter that takes X of a skip move's
    (G31) position, Y and Z behind it; 0: there is none. ``state`` to be worked on and looked at where the run was stopped.
    Raises: ProgramError (a block that cannot be run, or a touch that never came: ``no-trigger``).
    """
    state = ControlState() if state is None else state
    state.scale = state.unit_factor = unit_factor
    state.skip = skip
    rows = list(blocks)
    labels = {block.label: i for i, block in enumerate(rows) if block.label is not None}
    at, jumps = 0, 0
    while at < len(rows):
        block = rows[at]
        at += 1
        if block.deleted or not (block.words or block.settings or block.jump):
            continue
        if progress is not None:
            progress(block)
        if block.jump is not None:
            jumps += 1
            if jumps > MOST_JUMPS:
                raise ProgramError("unsupported", "it jumps for ever", block.line)
            if block.jump.taken(state.parameters):
                if block.jump.label not in labels:
                    raise ProgramError(
                        "syntax", "there is no block N{label} to go to", block.line, label=block.jump.label
                    )
                at = labels[block.jump.label]
            continue
        _run_block(block, state, drive)
        if state.missed and state.missed[-1] == block.line:
            begun = {state.skip + i: value for i, value in enumerate(state.began)}
            if was_guarded(rows, at, labels, state.parameters, begun):
                state.missed.pop()
        if state.ended:
            break
    return state


def _run_block(block: Block, state: ControlState, drive: Drive) -> None:
    values: dict[str, float] = {}
    gs: list[tuple[float, Word]] = []
    ms: list[tuple[int, Word]] = []
    for word in block.words:
        letter, raw, column = word
        value = raw if isinstance(raw, float) else resolve(raw, state.parameters)
        if letter == "g":
            gs.append((round(value, 1), word))
        elif letter == "m":
            ms.append((int(value), word))
        elif letter in values:
            raise ProgramError("syntax", "{upper} stands twice", block.line, column, upper=letter.upper())
        else:
            values[letter] = value
    if not ms and not block.settings and (not gs or (len(gs) == 1 and gs[0][0] in _MOTION)):
        if "f" in values or "s" in values or "t" in values:
            _units_and_feeds(_NO_CODES, values, state, block)
        code = gs[0][0] if gs else state.motion
        if code in _STRAIGHT and ("x" in values or "y" in values or "z" in values):
            _straight(code, values, state, drive, block)
            return  # a plain move, as most blocks are
        _motion({code} if gs and _supported(gs[0], block, state) else _NO_CODES, values, state, drive, block)
        return
    state.frame = None
    new = [
        (
            parameter_number(resolve(s.parameter, state.parameters), block.line, s.column),
            resolve(s.value, state.parameters),
        )
        for s in block.settings
    ]
    codes = _checked_codes(gs, block, state)
    _units_and_feeds(codes, values, state, block)
    _spindle_and_tools(ms, values, state, drive, block)
    _modes(codes, values, state, drive, block)
    if codes & CODES:
        origin = state.origin
        extra = (0.0, 0.0, state.length_offset)
        at = [(drive.position[i] - origin[i] - extra[i]) / state.scale for i in range(3)]
        shift(codes, values, state.parameters, (at[0], at[1], at[2]), block.line)
        state.parameters.update(new)
        return
    if 4.0 in codes:
        drive.dwell(values.get("p", 0.0), block.line)
    for code in codes & _HOMES.keys():
        _go_home(_HOMES[code], values, state, drive, block)
        values = {}
    _motion(codes, values, state, drive, block)
    state.parameters.update(new)
    if any(m in (2, 30) for m, _ in ms):
        state.ended = True


def _supported(g: tuple[float, Word], block: Block, state: ControlState) -> bool:
    """Let a G word pass that this language has. Raises: ProgramError ``unsupported``."""
    code, word = g
    if (
        code not in _GROUPS
        and code not in _ACCEPTED
        and code not in (4.0, 53.0)
        and code not in CODES
        and code not in _HOMES
    ) or (code == _SKIP and not state.skip):
        why = _ELSEWHERE.get(code, "it is not known here")
        raise ProgramError("unsupported", "G{named:g}: {why}", block.line, word.column, named=code, why=why)
    return True


def _checked_codes(gs: list[tuple[float, Word]], block: Block, state: ControlState) -> set[float]:
    seen: dict[str, float] = {}
    for code, word in gs:
        _supported((code, word), block, state)
        group = _GROUPS.get(code, f"G{code:g}")
        if group in seen:
            raise ProgramError(
                "syntax", "two words of one kind ({group}) in one block", block.line, word.column, group=group
            )
        seen[group] = code
    return {code for code, _ in gs}


def _units_and_feeds(codes: set[float], values: dict[str, float], state: ControlState, block: Block) -> None:
    if 20.0 in codes:
        state.scale = MM_PER_INCH * state.unit_factor
    if 21.0 in codes:
        state.scale = state.unit_factor
    if "f" in values:
        if values["f"] <= 0.0:
            raise ProgramError("syntax", "a feed must be above 0", block.line)
        state.feed = values["f"] * state.scale
    if "s" in values:
        if values["s"] < 0.0:
            raise ProgramError("syntax", "a speed must not be below 0", block.line)
        state.rpm = values["s"]
    if "t" in values:
        if values["t"] < 0 or values["t"] != int(values["t"]):
            raise ProgramError("syntax", "there is no tool {t:g}", block.line, t=values["t"])
        state.tool_wanted = int(values["t"])


def _spindle_and_tools(
    ms: list[tuple[int, Word]], values: dict[str, float], state: ControlState, drive: Drive, block: Block
) -> None:
    for m, word in ms:
        if m == 6:
            drive.change_tool(state.tool_wanted, block.line)
            state.tool, state.turning = state.tool_wanted, 0
        elif m in (3, 4, 5):
            state.turning = {3: 1, 4: -1, 5: 0}[m]
            drive.spindle(state.turning, state.rpm if state.turning else 0.0, block.line)
        elif m == 19:
            angle = next((values[letter] for letter in _ANGLES if letter in values), 0.0)
            state.turning = 0
            drive.orient(angle, block.line)
        elif m not in (0, 1, 2, 30) and m not in _M_ACCEPTED and not drive.auxiliary(m, block.line):
            raise ProgramError("unsupported", "M{m} is not known here", block.line, word.column, m=m)


def _modes(codes: set[float], values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    if 43.0 in codes:
        state.length_offset = drive.tool_length(int(values.pop("h", state.tool)), block.line)
    if 49.0 in codes:
        state.length_offset = 0.0
    for code in codes & _WORK.keys():
        state.parameters[5220] = float(_WORK[code])
    for code in codes & _PLANES:
        state.plane = code
    if codes & {98.0, 99.0}:
        state.cycle.clear_to_start = 98.0 in codes
    if 90.0 in codes:
        state.absolute = True
    if 91.0 in codes:
        state.absolute = False


def _motion(codes: set[float], values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    if codes:
        for code in codes & _MOTION:
            if code != state.motion:
                state.cycle.leave()
            state.motion = code
    if state.motion in _ARCS and (codes & _ARCS or values.keys() & _ROUND):
        if 53.0 in codes:
            raise ProgramError("syntax", "G53 goes with G0 or G1 in G90 only", block.line)
        _round(values, state, drive, block)
        return
    if not ("x" in values or "y" in values or "z" in values):
        if 38.2 in codes or codes & CYCLES:
            raise ProgramError("syntax", "G{motion:g} without an axis", block.line, motion=state.motion)
        return
    axes = values
    if state.motion in CYCLES:
        _cycle(values, state, drive, block)
        return
    if state.motion == 80.0:
        raise ProgramError("syntax", "axis words without a motion", block.line)
    if 53.0 in codes and (state.motion in (_SKIP, 38.2) or not state.absolute):
        raise ProgramError("syntax", "G53 goes with G0 or G1 in G90 only", block.line)
    target = _target(axes, 53.0 in codes, state, drive)
    if state.motion == 0.0:
        drive.move(target, None, block.line)
        return
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if state.motion == 1.0:
        drive.move(target, state.feed, block.line)
        return
    here = drive.position
    trip = drive.probe(target, state.feed, block.line)
    if state.motion == _SKIP:
        if trip is None:
            state.missed.append(block.line)
            state.began = _counted(here, state)
        _store_trip(trip.at if trip else drive.position, state, state.skip)
        return
    if trip is None:
        raise ProgramError("no-trigger", "the sensor never triggered on this move", block.line)
    _store_trip(trip.at, state, TRIP)


def _round(values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Follow an arc."""
    if state.plane != 17.0:
        raise ProgramError("unsupported", "arcs are followed in the XY plane (G17) alone", block.line)
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    end = _target(values, False, state, drive)
    for place in arc(drive.position, end, values, state.scale, state.motion == 2.0, block.line):
        drive.move(place, state.feed, block.line)


def _cycle(values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Carry out one block of a drilling cycle."""
    if state.plane != 17.0:
        raise ProgramError("unsupported", "drilling cycles are followed in the XY plane (G17) alone", block.line)
    if state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    x, y, z = state.origin
    frame = Frame(
        (x, y, z + state.length_offset), state.scale, state.absolute, state.feed, state.turning, state.rpm
    )  # fmt: skip
    drill(state.motion, values, state.cycle, frame, drive, block.line)


def _go_home(first: int, values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Go home by way of the place programmed: all axes, at rapid (NIST IR 6556, 3.5.8)."""
    if values.keys() & _AXES:
        drive.move(_target(values, False, state, drive), None, block.line)
    x, y, z = (state.parameters.get(first + i, 0.0) * state.scale for i in range(3))
    drive.move((x, y, z), None, block.line)


def _straight(code: float, values: dict[str, float], state: ControlState, drive: Drive, block: Block) -> None:
    """Move straight, at rapid or at feed."""
    if code != state.motion:
        state.cycle.leave()
        state.motion = code
    if code == 1.0 and state.feed <= 0.0:
        raise ProgramError("syntax", "no feed was set", block.line)
    if state.absolute:
        if state.frame is None:
            x, y, z = state.origin
            state.frame = (x, y, z + state.length_offset)
        here, scale, frame = drive.position, state.scale, state.frame
        target = (
            values["x"] * scale + frame[0] if "x" in values else here[0],
            values["y"] * scale + frame[1] if "y" in values else here[1],
            values["z"] * scale + frame[2] if "z" in values else here[2],
        )
    else:
        target = _target(values, False, state, drive)
    drive.move(target, None if code == 0.0 else state.feed, block.line)


def _target(axes: dict[str, float], machine: bool, state: ControlState, drive: Drive) -> Position:
    here, scale = drive.position, state.scale
    if not state.absolute:
        x, y, z = (here[i] + axes.get(axis, 0.0) * scale for i, axis in enumerate("xyz"))
        return (x, y, z)
    shift = (0.0, 0.0, 0.0) if machine else state.origin
    extra = 0.0 if machine else state.length_offset
    return (
        axes["x"] * scale + shift[0] if "x" in axes else here[0],
        axes["y"] * scale + shift[1] if "y" in axes else here[1],
        axes["z"] * scale + shift[2] + extra if "z" in axes else here[2],
    )


def _store_trip(at: Position, state: ControlState, first: int) -> None:
    """Leave the trigger's position in three parameters, in the program's own coordinates and units."""
    state.frame = None
    for i, value in enumerate(_counted(at, state)):
        state.parameters[first + i] = value


def _counted(at: Position, state: ControlState) -> Position:
    """Return a place in the program's own coordinates and units."""
    (x, y, z), scale = state.origin, state.scale
    return (at[0] - x) / scale, (at[1] - y) / scale, (at[2] - z - state.length_offset) / scale
