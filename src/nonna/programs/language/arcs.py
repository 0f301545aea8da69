"""Arcs in the XY plane, G2 and G3, as chains of straight moves (NIST IR 6556, 3.5.3)."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from nonna.programs.language.drive import Position
from nonna.programs.language.errors import ProgramError

CHORD_MM = 0.01  #: the chain leaves the arc by no more
LEAST_TURNS, MOST_TURN = 1e-9, math.radians(15.0)
ROUND_MM = 0.002  #: start and end may lie so much nearer or farther from the centre than each other, or
ROUND_SHARE = 0.001  #: so much of the radius, whichever is more: numbers of a program are rounded


def arc(
    here: Position, end: Position, values: Mapping[str, float], scale: float, clockwise: bool, line: int
) -> Iterator[Position]:
    """Yield the places along an arc from ``here`` to ``end`` (machine mm), the end last; Z goes along evenly.

    Parameters: values, the block's words: I and J (centre from the start) or R (a negative one: the longer way round),
    in program units; scale, millimetres a unit. A centre without an end is a whole turn. Raises: ProgramError
    ``syntax`` (no centre and no radius, both, a radius too small, ends not on one circle).
    """
    centre = ("i" in values) or ("j" in values)
    if centre == ("r" in values):
        raise ProgramError("syntax", "an arc takes its centre, I and J, or its radius, R", line)
    if "k" in values:
        raise ProgramError("syntax", "an arc in the XY plane takes no K", line)
    if centre:
        x, y = here[0] + values.get("i", 0.0) * scale, here[1] + values.get("j", 0.0) * scale
        first, last = math.hypot(here[0] - x, here[1] - y), math.hypot(end[0] - x, end[1] - y)
        if first == 0.0 or abs(first - last) > max(ROUND_MM, ROUND_SHARE * first):
            raise ProgramError(
                "syntax",
                "start and end are no circle's: {first:.3f} and {last:.3f} mm from its centre",
                line,
                first=first,
                last=last,
            )
    else:
        x, y = _centre_by_radius(here, end, values["r"] * scale, clockwise, line)
    begin = math.atan2(here[1] - y, here[0] - x)
    turn = (math.atan2(end[1] - y, end[0] - x) - begin) % (2.0 * math.pi)
    if turn < LEAST_TURNS or turn > 2.0 * math.pi - LEAST_TURNS:
        turn = 2.0 * math.pi
    elif clockwise:
        turn = 2.0 * math.pi - turn
    radius = math.hypot(here[0] - x, here[1] - y)
    step = min(MOST_TURN, 2.0 * math.acos(max(0.0, 1.0 - CHORD_MM / radius))) if radius > CHORD_MM else MOST_TURN
    count = max(1, math.ceil(turn / step))
    way = -turn if clockwise else turn
    for i in range(1, count):
        at = begin + way * i / count
        yield (x + radius * math.cos(at), y + radius * math.sin(at), here[2] + (end[2] - here[2]) * i / count)
    yield end


def _centre_by_radius(here: Position, end: Position, radius: float, clockwise: bool, line: int) -> tuple[float, float]:
    dx, dy = end[0] - here[0], end[1] - here[1]
    chord = math.hypot(dx, dy)
    if chord == 0.0:
        raise ProgramError("syntax", "an arc by its radius must end somewhere else than it begins", line)
    square = radius * radius - chord * chord / 4.0
    if square < -2.0 * abs(radius) * ROUND_MM:
        raise ProgramError(
            "syntax", "a radius of {abs:.3f} mm does not reach over {chord:.3f} mm", line, abs=abs(radius), chord=chord
        )
    off = math.sqrt(max(square, 0.0)) / chord
    side = -1.0 if (radius > 0.0) == clockwise else 1.0
    return (here[0] + dx / 2.0 - side * dy * off, here[1] + dy / 2.0 + side * dx * off)
