"""What a session asks of whoever shows it: time behind the screen, an answer, an instrument, a file."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Protocol, TypeVar

if TYPE_CHECKING:
    from nonna.errors import NonnaError
    from nonna.procedures.instrument_line import LineReading
    from nonna.shop.cards.connection import Connection
    from nonna.shop.texts.line_pattern import LinePattern

T = TypeVar("T")


class CancelledError(Exception):
    """The work was asked to stop and did."""


class Task:
    """What the function at work is given: it tells how far it is, and is told to stop."""

    def __init__(self, tell: Callable[[object], None]) -> None:
        self.tell = tell  #: tells how far it is
        self._stop = threading.Event()

    def pause(self, seconds: float) -> None:
        """Sleep inside the work. Raises: CancelledError as soon as it is asked to stop."""
        if self._stop.wait(seconds):
            raise CancelledError

    def check(self) -> None:
        """Raise CancelledError if asked to stop."""
        if self._stop.is_set():
            raise CancelledError

    def cancel(self) -> None:
        """Ask it to stop at the next chance."""
        self._stop.set()


class Running(Protocol):
    """Something that was begun and ends by itself."""

    @property
    def busy(self) -> bool:
        """Whether its end was not told yet."""

    def cancel(self) -> None:
        """Ask it to stop at the next chance; what waits for its time does not come any more."""


class Waited(Running, Protocol):
    """Something that can be waited for."""

    def hand_over(self, seconds: float) -> bool:
        """Wait for its end, at most so long, and tell at once what came of it; says whether it ended."""

    def ended(self) -> None:
        """Wait until it is done; for another thread."""


class Listening(Protocol):
    """An instrument that is listened to."""

    def close(self) -> None:
        """Listen no more."""


class Front(Protocol):
    """Tells what came of something where it was asked for. What it was made for may go: then nothing is told."""

    def behind(
        self, function: Callable[[Task], T], done: Callable[[T], object], failed: Callable[[NonnaError], object], *,
        progress: Callable[..., object] | None = None, cancelled: Callable[[], object] | None = None,
        file: bool = False, last: bool = False,
    ) -> Waited:  # fmt: skip
        """Do what takes time behind the screen.

        Parameters: file, somebody waits for a file to be read or written: nothing is closed before it is; last, the
        program itself does not end before it is done.
        """

    def later(self, ms: int, act: Callable[[], object]) -> Running:
        """Do something after a while."""

    def ask(self, words: str, answer: str, yes: Callable[[], object], no: Callable[[], object]) -> bool:
        """Ask a question that has one answer beside leaving it; says whether there is anybody to ask."""

    def listen(
        self, line: Connection, pattern: LinePattern | None, arrived: Callable[[LineReading], object],
        lost: Callable[[str], object], unread: Callable[[str], object],
    ) -> Listening:  # fmt: skip
        """Listen to an instrument: what it shows, why it stopped, that it sends what nobody understands."""

    def read_bytes(self, path: Path) -> bytes:
        """Return a stranger's file. Raises: NonnaError."""

    def unprintable(self, letters: str) -> tuple[str, ...]:
        """Return those letters that no certificate could print."""
