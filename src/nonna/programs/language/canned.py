"""Drilling cycles in the XY plane, G81 to G86 and G89, as the moves they stand for (NIST IR 6556, 3.5.16)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nonna.programs.language.drive import Drive, Position
from nonna.programs.language.errors import ProgramError

CYCLES = {81.0, 82.0, 83.0, 84.0, 85.0, 86.0, 89.0}
BACK_OFF_MM = 0.254  #: above the depth reached, before a peck goes on
MOST_REPEATS, MOST_PECKS = 10_000, 100_000
_DWELLS = {82.0, 86.0, 89.0}
_OUT_BY_FEED = {84.0, 85.0, 89.0}


@dataclass(slots=True)
class Cycle:
    """What a drilling cycle remembers from block to block."""

    code: float = 0.0
    words: dict[str, float] = field(default_factory=dict)  #: Z, R, P and Q as they were given last
    clear_to_start: bool = True  #: G98: back to where Z was before the cycle, else (G99) to R
    start_z: float = 0.0  #: where Z was before the cycle began, machine mm

    def leave(self) -> None:
        """Another motion: the numbers are forgotten."""
        self.code = 0.0
        self.words = {}


@dataclass(frozen=True, slots=True)
class Frame:
    """How the program's numbers become machine millimetres just now."""

    origin: Position  #: Z with the length offset
    scale: float
    absolute: bool
    feed: float
    turning: int
    rpm: float


def drill(code: float, values: Mapping[str, float], cycle: Cycle, frame: Frame, drive: Drive, line: int) -> None:
    """Carry out one block of a drilling cycle.

    Parameters: values, the block's words in program units. Raises: ProgramError ``syntax`` (a number that is missing or
    impossible: Z above R, no P, no Q, a tap that does not turn clockwise).
    """
    if cycle.code != code:
        cycle.leave()
        cycle.code, cycle.start_z = code, drive.position[2]
    cycle.words |= {name: values[name] for name in ("z", "r", "p", "q") if name in values}
    words = cycle.words
    for name, wanted in (("r", True), ("z", True), ("p", code in _DWELLS), ("q", code == 83.0)):
        if wanted and name not in words:
            raise ProgramError("syntax", "G{named:g} takes {upper}", line, named=code, upper=name.upper())
    repeats = values.get("l", 1.0)
    if repeats < 1 or repeats != int(repeats) or repeats > MOST_REPEATS:
        raise ProgramError("syntax", "L counts how often: {repeats:g} does not", line, repeats=repeats)
    if words.get("p", 0.0) < 0.0 or (code == 83.0 and words["q"] <= 0.0):
        raise ProgramError("syntax", "P must not be below 0, and Q must be above", line)
    if code == 84.0 and frame.turning != 1:
        raise ProgramError("syntax", "a tap must turn clockwise (M3) before it goes in", line)
    for _ in range(int(repeats)):
        _once(code, values, cycle, frame, drive, line)


def _once(code: float, values: Mapping[str, float], cycle: Cycle, frame: Frame, drive: Drive, line: int) -> None:
    x, y, z = drive.position
    words, scale = cycle.words, frame.scale
    if frame.absolute:
        clear, bottom = (words[name] * scale + frame.origin[2] for name in ("r", "z"))
        at_x = values["x"] * scale + frame.origin[0] if "x" in values else x
        at_y = values["y"] * scale + frame.origin[1] if "y" in values else y
    else:
        clear = words["r"] * scale + cycle.start_z
        bottom = words["z"] * scale + clear
        at_x, at_y = x + values.get("x", 0.0) * scale, y + values.get("y", 0.0) * scale
    if bottom > clear:
        raise ProgramError("syntax", "Z lies above R: the hole would be in the air", line)
    if z < clear:
        drive.move((x, y, clear), None, line)
        z = clear
    if (at_x, at_y) != (x, y):
        drive.move((at_x, at_y, z), None, line)
    if z != clear:
        drive.move((at_x, at_y, clear), None, line)
    _down(code, words, (at_x, at_y, clear), bottom, frame, drive, line)
    out = max(cycle.start_z, clear) if cycle.clear_to_start else clear
    if code == 84.0:
        drive.spindle(-1, frame.rpm, line)
    if code == 86.0:
        drive.spindle(0, 0.0, line)
    if code in _OUT_BY_FEED:
        drive.move((at_x, at_y, clear), frame.feed, line)
        if out > clear:
            drive.move((at_x, at_y, out), None, line)
    else:
        drive.move((at_x, at_y, out), None, line)
    if code in (84.0, 86.0) and frame.turning:
        drive.spindle(frame.turning, frame.rpm, line)


def _down(
    code: float, words: Mapping[str, float], top: Position, bottom: float, frame: Frame, drive: Drive, line: int
) -> None:
    x, y, clear = top
    if code == 83.0:
        step, reached = words["q"] * frame.scale, clear
        if (clear - bottom) / step > MOST_PECKS:
            raise ProgramError("syntax", "Q is far too small for this depth", line)
        while reached - step > bottom:
            reached -= step
            drive.move((x, y, reached), frame.feed, line)
            drive.move((x, y, clear), None, line)
            drive.move((x, y, min(clear, reached + BACK_OFF_MM)), None, line)
    drive.move((x, y, bottom), frame.feed, line)
    if code in _DWELLS and words["p"] > 0.0:
        drive.dwell(words["p"], line)
