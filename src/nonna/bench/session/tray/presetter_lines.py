"""The tray listening to the shop's presetter: lines in, tools judged one by one behind the screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from nonna.bench.job.arriving import Arrivals, ReadsLikeTheLast, Screen, lines_of_standin
from nonna.bench.session.signals import Signal
from nonna.errors import NonnaError
from nonna.shop.cards.connection import Connection
from nonna.shop.texts.line_pattern import line_pattern
from nonna.standin.indicator import IndicatorServer

if TYPE_CHECKING:
    from nonna.bench.session.front import Front, Listening, Running
    from nonna.bench.sheet.judging import Judged
    from nonna.procedures.instrument_line import LineReading
    from nonna.standin.world import World

LINES_HZ = 20.0  #: of the stand-in: somebody with a quick hand
LOOK_MS = 50


class PresetterLines:
    """One presetter being listened to; closed it holds nothing."""

    def __init__(self, front: Front) -> None:
        self._front = front
        self.changed: Signal[[]] = Signal()
        self.said: Signal[[str, str]] = Signal()
        self.came: Signal[[int]] = Signal()  #: a tool of which a line was taken, by its number
        self.judged: Signal[[Judged]] = Signal()  #: a tool that is all there
        self.now: Arrivals | None = None
        self._reader: Listening | None = None
        self._server: IndicatorServer | None = None
        self._finding: object = None  #: what is being found out, None where nothing is
        self._screen = Screen(None, 0, 0)  #: for the stand-in, in one piece: its hands are on another thread
        self._looking: Running | None = None

    @property
    def listening(self) -> bool:
        """Whether a presetter is listened to, or is about to be."""
        return self.now is not None or self._finding is not None

    def find(self, arrivals: Callable[[], Arrivals], world: Callable[[], World] | None) -> None:
        """Find out behind the screen what there is to listen to, then listen; the parameters are those of `begin`."""
        self.close()
        finding = self._finding = object()
        self._front.behind(
            lambda _: arrivals(),
            lambda found: self._on_found(finding, found, world),
            lambda error: self._on_not_found(finding, error),
        )

    def _on_found(self, finding: object, found: Arrivals, world: Callable[[], World] | None) -> None:
        if finding is not self._finding:
            return  # stopped meanwhile
        try:
            self.begin(found, world)
        except NonnaError as error:
            self.said.emit(error.message, "due")

    def _on_not_found(self, finding: object, error: NonnaError) -> None:
        if finding is self._finding:
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
            self._looking = self._front.later(LOOK_MS, self._look_on)
            line = Connection(self._server.url)
        self.now = found
        self._show()
        unread = lambda words: self.said.emit(words, "due")  # noqa: E731
        self._reader = self._front.listen(line, read_as, self._on_line, self._on_lost, unread)
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
        if self._looking is not None:
            self._looking.cancel()
            self._looking = None
        self.now, self._reader, self._server = None, None, None
        self._show()
        if was:
            self.changed.emit()
        return was

    def _look_on(self) -> None:
        """Its hands look at the screen every now and then."""
        self._show(looks=1)
        self._looking = self._front.later(LOOK_MS, self._look_on)

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
        self._front.behind(
            lambda _: now.judged(number), self.judged.emit, lambda error: self.said.emit(error.message, "bad")
        )

    def _on_lost(self, words: str) -> None:
        self.close()
        self.said.emit(f"{words} What came before is there.", "bad")
