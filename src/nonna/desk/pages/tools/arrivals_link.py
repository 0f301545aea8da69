"""The tray listening to the shop's presetter: lines in, tools judged one by one behind the screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from nonna.bench.job.arriving import Arrivals, ReadsLikeTheLast, Screen, lines_of_standin
from nonna.desk.threads.instrument_lines import LiveReader
from nonna.desk.threads.work import Task, Work
from nonna.errors import NonnaError
from nonna.shop.cards.connection import Connection
from nonna.shop.texts.line_pattern import line_pattern
from nonna.standin.indicator import IndicatorServer

if TYPE_CHECKING:
    from nonna.bench.sheet.judging import Judged
    from nonna.procedures.instrument_line import LineReading
    from nonna.standin.world import World

LINES_HZ = 20.0  #: of the stand-in: somebody with a quick hand
LOOK_MS = 50


class ArrivalsLink(QObject):
    """One presetter being listened to; closed it holds nothing."""

    changed = Signal()
    said = Signal(str, str)
    came = Signal(int)  #: a tool of which a line was taken, by its number
    judged = Signal(object)  #: a tool that is all there

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.now: Arrivals | None = None
        self._reader: LiveReader | None = None
        self._server: IndicatorServer | None = None
        self._finding: Work | None = None
        self._screen = Screen(None, 0, 0)  #: for the stand-in, in one piece: its hands are on another thread
        self._looking = QTimer(self, interval=LOOK_MS)
        self._looking.timeout.connect(lambda: self._show(looks=1))

    @property
    def listening(self) -> bool:
        """Whether a presetter is listened to, or is about to be."""
        return self.now is not None or self._finding is not None

    def find(self, arrivals: Callable[[], Arrivals], world: Callable[[], World] | None) -> None:
        """Find out behind the screen what there is to listen to, then listen; the parameters are those of `begin`."""
        self.close()
        self._finding = work = Work(lambda _: arrivals(), self)
        work.done.connect(lambda found: self._on_found(work, found, world))
        work.failed.connect(lambda error: self._on_not_found(work, error))
        work.start()

    def _on_found(self, work: Work, found: Arrivals, world: Callable[[], World] | None) -> None:
        if work is not self._finding:
            return  # stopped meanwhile
        try:
            self.begin(found, world)
        except NonnaError as error:
            self.said.emit(error.message, "due")

    def _on_not_found(self, work: Work, error: NonnaError) -> None:
        if work is self._finding:
            self._finding = None
            self.said.emit(error.message, "due")

    def begin(self, found: Arrivals, world: Callable[[], World] | None) -> None:
        """Listen; to the stand-in where its card names no port and a world is given. Raises: NonnaError."""
        self.close()
        pattern = found.instrument.pattern
        read_as = line_pattern(pattern, ("value",)) if pattern else None
        line = found.instrument.line
        if not line.url and world is not None:
            self._server = IndicatorServer(lines_of_standin(found, world(), lambda: self._screen), LINES_HZ)
            self._looking.start()
            line = Connection(self._server.url)
        self.now = found
        self._show()
        self._reader = LiveReader(line, self, read_as)
        self._reader.arrived.connect(self._on_line)
        self._reader.unread.connect(lambda words: self.said.emit(words, "due"))
        self._reader.lost.connect(self._on_lost)
        self._reader.start()
        self.changed.emit()

    def ask(self, number: int | None) -> None:
        """Ask for the tool under the cursor, where lines do not name theirs; not for one that is all there."""
        if self.now is None or self.now.named or number is None or number == self.now.asked:
            return
        if not self.now.whole(number):
            self.now = self.now.ask(number)
            self._show()
            self.changed.emit()

    def close(self) -> bool:
        """Stop listening; says whether something was listened to."""
        was = self.listening
        self._finding = None
        if self._reader is not None:
            self._reader.close()
        if self._server is not None:
            self._server.close()
        self._looking.stop()
        self.now, self._reader, self._server = None, None, None
        self._show()
        if was:
            self.changed.emit()
        return was

    def _show(self, heard: int = 0, looks: int = 0) -> None:
        asked = self.now.asked if self.now is not None else None
        self._screen = Screen(asked, self._screen.heard + heard, self._screen.looks + looks)

    def _on_line(self, line: LineReading) -> None:
        self._take(line)
        self._show(heard=1)

    def _take(self, line: LineReading) -> None:
        if self.now is None:
            return
        try:
            now, number = self.now.take(line)
        except ReadsLikeTheLast as doubt:
            self.now = doubt.then
            self.said.emit(doubt.message, "due")
            return
        except NonnaError as error:
            self.said.emit(error.message, "due")
            return
        whole_before = self.now.whole(number)
        self.now = now
        self.came.emit(number)
        if now.whole(number) and not whole_before:
            self._judge(now, number)
        self.changed.emit()
        if not now.left:
            self.close()
            self.said.emit(f"All {len(now.wanted)} are there. Enter accepts those that are sound.", "good")

    def _judge(self, now: Arrivals, number: int) -> None:
        def run(_: Task) -> Judged:
            return now.judged(number)

        work = Work(run, self)
        work.done.connect(self.judged)
        work.failed.connect(lambda error: self.said.emit(error.message, "bad"))
        work.start()

    def _on_lost(self, words: str) -> None:
        self.close()
        self.said.emit(f"{words} What came before is there.", "bad")
