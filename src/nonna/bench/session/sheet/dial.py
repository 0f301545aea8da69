"""A sheet's live indicator: the reader, and for the stand-in the server and the dial behind it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.bench.session.signals import Signal
from nonna.errors import NonnaError
from nonna.shop.cards.connection import Connection
from nonna.shop.texts.line_pattern import line_pattern
from nonna.standin.indicator import IndicatorServer
from nonna.standin.wishes import LiveDial
from nonna.stations.kind import kind_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from nonna.bench.session.front import Front, Listening
    from nonna.bench.session.sheet.one_read import OneRead
    from nonna.bench.sheet.instruments import Instrument
    from nonna.procedures.facts import Slot
    from nonna.procedures.instrument_line import LineReading
    from nonna.standin.wishes import SheetWish
    from nonna.standin.world import World


LINES_HZ = 8.0  #: of a stand-in instrument that prints a line a reading


class Dial:
    """One indicator being read; closed it holds nothing."""

    def __init__(self, front: Front) -> None:
        self._front = front
        self.shown: Signal[[LineReading]] = Signal()  #: what it shows, mm, with what else its line says
        self.begun: Signal[[]] = Signal()
        self.refused: Signal[[NonnaError]] = Signal()  #: it is not read
        self.lost: Signal[[str]] = Signal()  #: why it stopped, in words
        self.unread: Signal[[str]] = Signal()  #: it sends what nobody understands
        self.open = False  #: whether an indicator is being read
        self.value_mm: float | None = None
        self.presses = False  #: each line it sends is a reading: its own button was pressed
        self._reader: Listening | None = None
        self._server: IndicatorServer | None = None
        self._dial: LiveDial | None = None

    def begin(
        self, instrument: Instrument, url: str, reads: OneRead, standin: Callable[[], tuple[SheetWish, World]] | None
    ) -> None:
        """Read an instrument where its card says, or ``url`` does; the stand-in's where there is none and one may be
        read.

        Parameters: reads, what has the stand-in's job made behind the screen.
        """
        line, presses = instrument.at(url)
        if line.url or standin is None:
            self._start(lambda: self.read(line, instrument.pattern, presses=presses))
        elif not reads.busy:
            reads.start(standin, lambda made: self._start(lambda: self.read_standin(*made, instrument.pattern)))

    def _start(self, read: Callable[[], None]) -> None:
        try:
            read()
        except NonnaError as error:
            self.refused.emit(error)
        else:
            self.begun.emit()

    def read(self, line: Connection, pattern: str = "", *, presses: bool = False) -> None:
        """Read the indicator at a port or an address; presses says that its own button sends.

        Parameters: pattern, how its lines read; "" for lines with one number. Raises: NonnaError (no such pattern).
        """
        read_as = line_pattern(pattern, ("value",)) if pattern else None
        self.presses = presses
        self._reader = self._front.listen(line, read_as, self._on_arrived, self._on_lost, self.unread.emit)
        self.open = True

    def read_standin(self, job: SheetWish, world: World, pattern: str = "") -> None:
        """Read the stand-in's dial, or what its instrument prints, over its own local socket."""
        kind = kind_of(job.machine.kind)
        there = kind.measured_by()
        if there.lines is not None and job.taking in kind.by_line:
            self._server = IndicatorServer(there.lines(job, world, pattern), LINES_HZ)
            self.read(Connection(self._server.url), pattern, presses=True)
            return
        if there.dial is None:
            raise job.refused(f"{kind.words}'s ")
        self._dial = there.dial(job, world)
        self._server = IndicatorServer(self._dial.read)
        self.read(Connection(self._server.url))

    def follow(self, slot: Slot | None) -> None:
        """Say which reading is wanted next; only the stand-in's dial needs to know where the hand goes."""
        if self._dial is not None and slot is not None:
            self._dial.go_to(slot.fields)

    def close(self) -> bool:
        """Stop reading; says whether something was read."""
        was = self.open
        if self._reader is not None:
            self._reader.close()
        if self._server is not None:
            self._server.close()
        self._reader = self._server = self._dial = None
        self.open, self.value_mm = False, None
        return was

    def _on_arrived(self, value_mm: LineReading) -> None:
        if self.open:
            self.value_mm = value_mm
            self.shown.emit(value_mm)

    def _on_lost(self, words: str) -> None:
        self.close()
        self.lost.emit(words)
