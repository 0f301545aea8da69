"""What stands in front of a session here: threads, timers, questions and instruments of the toolkit.

Fills the port `bench.session.front.Front`. All it has under way goes with the object it was made for.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget

from nonna import wiring
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import FileWork, LastWork, Work

if TYPE_CHECKING:
    from nonna.bench.session.front import Task
    from nonna.desk.threads.instrument_lines import LiveReader
    from nonna.errors import NonnaError
    from nonna.procedures.instrument_line import LineReading
    from nonna.shop.cards.connection import Connection
    from nonna.shop.texts.line_pattern import LinePattern

T = TypeVar("T")


class Later(QTimer):
    """Something that comes after a while, once."""

    def __init__(self, ms: int, act: Callable[[], object], parent: QObject) -> None:
        super().__init__(parent, singleShot=True, interval=ms)
        self.busy, self._act = True, act
        self.timeout.connect(self._come)
        self.start()

    def _come(self) -> None:
        self.busy = False
        self.deleteLater()
        self._act()

    def cancel(self) -> None:
        """It does not come any more."""
        if self.busy:
            self.busy = False
            self.stop()
            self.deleteLater()


class QtFront(QObject):
    """Stands in front of what belongs to a widget, or to nobody yet."""

    def behind(
        self, function: Callable[[Task], T], done: Callable[[T], object], failed: Callable[[NonnaError], object], *,
        progress: Callable[..., object] | None = None, cancelled: Callable[[], object] | None = None,
        file: bool = False, last: bool = False,
    ) -> Work:  # fmt: skip
        """Do what takes time in a thread of its own."""
        work = (LastWork if last else FileWork if file else Work)(function, self)
        work.done.connect(done)
        work.failed.connect(failed)
        if progress is not None:
            work.progress.connect(progress)
        if cancelled is not None:
            work.cancelled.connect(cancelled)
        work.start()
        return work

    def later(self, ms: int, act: Callable[[], object]) -> Later:
        """Do something after a while; after none, in a turn of the event loop that nothing else is done in."""
        return Later(ms, act if ms else lambda: next_turn(self, act), self)

    def ask(self, words: str, answer: str, yes: Callable[[], object], no: Callable[[], object]) -> bool:
        """Ask over the window; says whether there is one."""
        owner: QObject | None = self
        while owner is not None and not isinstance(owner, QWidget):
            owner = owner.parent()
        if owner is None:
            return False
        dialog = QuestionDialog(words, answer, yes, owner.window())
        dialog.rejected.connect(no)
        show_over(dialog, owner.window())
        return True

    def listen(
        self, line: Connection, pattern: LinePattern | None, arrived: Callable[[LineReading], object],
        lost: Callable[[str], object], unread: Callable[[str], object],
    ) -> LiveReader:  # fmt: skip
        """Listen to an instrument in a thread of its own."""
        from nonna.desk.threads.instrument_lines import LiveReader  # late: with the cards it loads a library

        reader = LiveReader(line, self, pattern)
        reader.unread.connect(unread)
        reader.arrived.connect(arrived)
        reader.lost.connect(lost)
        reader.start()
        return reader

    def read_bytes(self, path: Path) -> bytes:
        """Return a stranger's file. Raises: NonnaError."""
        return wiring.read_bytes(path)

    def unprintable(self, letters: str) -> tuple[str, ...]:
        """Return those letters that no certificate could print."""
        return wiring.unprintable(letters)
