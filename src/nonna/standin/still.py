"""A machine on which nothing may move: proves that a program only stores, reads and prints."""

from __future__ import annotations

from nonna.programs.language.drive import Position, Trip
from nonna.programs.language.errors import ProgramError


class StillMachine:
    """A drive that refuses whatever moves, turns or changes anything but a table."""

    position: Position = (0.0, 0.0, 0.0)
    clock_s = 0.0

    def move(self, target: Position, feed_mm_min: float | None, line: int) -> None:
        """Refuse, wherever it goes."""
        raise self._moved(line)

    def probe(self, target: Position, feed_mm_min: float, line: int) -> Trip | None:
        """Refuse."""
        raise self._moved(line)

    def dwell(self, seconds: float, line: int) -> None:
        """Wait: nothing is changed by that."""

    def spindle(self, direction: int, rpm: float, line: int) -> None:
        """Refuse."""
        raise self._moved(line)

    def orient(self, degrees: float, line: int) -> None:
        """Refuse."""
        raise self._moved(line)

    def pause(self, line: int) -> None:
        """Wait for a person."""

    def end(self, line: int) -> None:
        """Come to the program's end."""

    def auxiliary(self, word: int, line: int) -> bool:
        """Know no word of any machine."""
        del word
        return False

    def change_tool(self, number: int, line: int) -> None:
        """Refuse."""
        raise self._moved(line)

    def tool_length(self, number: int, line: int) -> float:
        """Refuse: with a length taken off, places change."""
        raise self._moved(line)

    def _moved(self, line: int) -> ProgramError:
        return ProgramError("unsupported", "a program that only stores does something else here", line)
