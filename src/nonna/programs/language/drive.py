"""What a program drives: the port between the interpreter and a machine, real or stand-in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol, TypeAlias

Position: TypeAlias = tuple[float, float, float]  #: machine X, Y, Z of the gauge line, mm


@dataclass(frozen=True, slots=True)
class Trip:
    """What a straight probe found: where it was at the trigger, and where the machine then stood."""

    at: Position
    stopped: Position


class Drive(Protocol):
    """A machine that can be moved; all positions are machine coordinates in millimetres."""

    @property
    def position(self) -> Position:
        """Where the gauge line is."""

    @property
    def clock_s(self) -> float:
        """Seconds of machine time since the start."""

    def move(self, target: Position, feed_mm_min: float | None, line: int) -> None:
        """Move straight; a feed of None is rapid."""

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Move straight until the sensor triggers; None when it never does."""

    def dwell(self, seconds: float, line: int) -> None:
        """Wait."""

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Turn the spindle: 1 clockwise, -1 counter-clockwise, 0 stop."""

    def orient(self, degrees: float, line: int) -> None:
        """Turn the spindle to an angle, counter-clockwise from above, and hold it there until it is told otherwise."""

    def pause(self, line: int) -> None:
        """Stop until a person goes on."""

    def end(self, line: int) -> None:
        """Come to the program's end."""

    def auxiliary(self, word: int, line: int) -> bool:
        """Carry out an M word of this machine's own; say whether it has it."""

    def change_tool(self, number: int, line: int) -> None:
        """Put a tool from its pocket into the spindle."""

    def tool_length(self, number: int, line: int) -> float:
        """Return what the machine's table holds for a tool, mm."""
