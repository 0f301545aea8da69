"""The sheets of a window: one in hand, others put aside unsigned, one thrown away that can be had back."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from nonna.bench.job import rounds
from nonna.bench.session.signals import Signal
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.session.front import Front, Task, Waited
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.bench.session.sheet.stage import SheetStage
    from nonna.bench.sheet.drafts import Started
    from nonna.bench.station.site import Site
    from nonna.shop.links.subjects import Subject

LOG = logging.getLogger("nonna")


class _Wanted(NamedTuple):
    """A sheet that is asked for: of what, on which machine."""

    site: Site
    name: str
    subject: Subject

    @property
    def key(self) -> tuple[str, str, Subject]:
        """Station, procedure, subject."""
        return (self.site.machine.name, self.name, self.subject)


class _Open(NamedTuple):
    """A sheet and where it was opened from."""

    sheet: OpenSheet
    origin: str

    @property
    def wanted(self) -> tuple[str, str, Subject]:
        """What it is a sheet of: station, procedure, subject."""
        sheet = self.sheet
        return (sheet.site.machine.name, sheet.session.name, sheet.session.facts.subject)

    @property
    def words(self) -> str:
        """What it is called where it waits."""
        count = len(self.sheet.session.live)
        return f"{self.sheet.session.procedure.title}, {count} reading{'' if count == 1 else 's'}"


class SheetsInHand:
    """Opens, puts aside, takes up, throws away. What is on a tape is never lost by leaving a page."""

    def __init__(self, front: Front, stage: SheetStage) -> None:
        self._front, self._stage = front, stage
        self.changed: Signal[[]] = Signal()  #: what waits is not what it was
        self._current: _Open | None = None
        self._aside: list[_Open] = []
        self._thrown: _Open | None = None
        self._seen: OpenSheet | None = None  #: the sheet that is seen, None where another page is
        self._queue: list[tuple[str, Subject]] = []
        self._wanted: _Wanted | None = None  #: the sheet that is being opened
        self._reading = False  #: whether one is being read
        self._leaving: list[Waited] = []  #: what still writes tapes of sheets that were left
        self._origin = stage.home
        self.in_round = False
        self._source = "typed"

    @property
    def current(self) -> OpenSheet | None:
        """The sheet in hand, in front or behind another page."""
        return self._current.sheet if self._current else None

    @property
    def all(self) -> tuple[OpenSheet, ...]:
        """Every open sheet, those put aside first."""
        return tuple(o.sheet for o in (*self._aside, *([self._current] if self._current else ())))

    @property
    def unsigned(self) -> tuple[OpenSheet, ...]:
        """Open sheets with readings that no record holds yet."""
        return tuple(sheet for sheet in self.all if sheet.unsigned)

    @property
    def waiting(self) -> str:
        """What waits behind other pages, in words, "" when nothing does."""
        hidden = [*self._aside, *([self._current] if self._current and not self.in_front else ())]
        hidden = [o for o in hidden if o.sheet.unsigned or o.sheet.busy]
        if not hidden:
            return ""
        more = f" and {len(hidden) - 1} more" if len(hidden) > 1 else ""
        return f"{hidden[-1].words}{more}"

    @property
    def in_front(self) -> bool:
        """Whether the sheet in hand is what is seen."""
        return self._current is not None and self._current.sheet is self._seen

    def went_behind(self) -> None:
        """Another page is seen."""
        self._seen = None
        self.changed.emit()

    def _on_changed(self, sheet: OpenSheet) -> None:
        if sheet is not self._seen:  # what is seen waits nowhere
            self.changed.emit()

    def open(self, wanted: Sequence[tuple[str, Subject]], origin: str, *, in_round: bool = False) -> None:
        """Open sheets (procedure, subject) one after another; one with readings in hand is put aside first."""
        first = (self._stage.machine_name, *wanted[0])
        if self._wanted is not None and self._wanted.key == first:
            return  # it is on its way
        if self._current is not None and self._current.wanted == first:
            self.show()
            return
        kept = next((o for o in self._aside if o.wanted == first), None)
        self._wanted = None
        self._queue, self._origin, self.in_round, self._source = list(wanted), origin, in_round, "typed"
        if kept is not None:
            self._queue.pop(0)
            self._take(kept)
        else:
            self._open_next()

    def show(self) -> bool:
        """Bring the sheet in hand to the front, or take up the last one put aside; says whether there was one."""
        if self._current is None and self._aside:
            self._take(self._aside[-1])
            return True
        if self._current is None:
            return False
        self._seen = self._current.sheet
        self._stage.bring(self._current.sheet, self._current.origin)
        self.changed.emit()
        return True

    def leave(self) -> None:
        """Leave the sheet in hand: what is on its tape waits; one that is signed or empty is closed."""
        opened = self._current
        if opened is None:
            return
        if opened.sheet.unsigned or opened.sheet.busy:
            self._stage.come_to(opened.origin)
            self._stage.tell("", "plain")
            self.changed.emit()
            return
        self._finish()

    def throw_away(self) -> None:
        """Throw the sheet in hand away with its readings; `bring_back` undoes it."""
        opened = self._current
        if opened is None:
            return
        opened.sheet.standin.cancel()
        opened.sheet.stop_live()
        opened.sheet.reads.forget()
        opened.sheet.keeper.forget()
        if self._thrown is not None:
            self._drop(self._thrown)
        self._thrown, self._current = opened, None
        self._stage.put_away(opened.sheet)
        self._queue, self.in_round = [], False
        self._stage.come_to(opened.origin)
        self._stage.tell(f"{opened.words} thrown away. Ctrl+Z brings them back.", "due")
        self.changed.emit()

    def bring_back(self) -> bool:
        """Take up again what was thrown away last; says whether there was anything."""
        if self._thrown is None:
            return False
        opened, self._thrown = self._thrown, None
        self._put_aside()
        opened.sheet.units = self._stage.units  # changed meanwhile, perhaps
        self._stage.take_back(opened.sheet)
        self._current = opened
        self._stage.tell("", "plain")
        opened.sheet.changed.emit()  # its draft is kept again
        self.show()
        return True

    def let_go(self) -> None:
        """Leave every sheet to its draft: the shop or the station is changed, or the window closes."""
        self._wanted = None
        if self.in_front:
            self._stage.go(self._stage.home)
        for opened in (*self._aside, *([self._current] if self._current else ())):
            opened.sheet.standin.cancel()
            self._drop(opened)
        self._aside, self._current, self._queue, self.in_round = [], None, [], False
        self.changed.emit()

    def state_changed(self) -> None:
        """The shop was read afresh: sheets look again whether what they rest on holds."""
        state = self._stage.state
        for sheet in self.all:
            if state is not None and sheet.site.machine.name == state.machine:
                sheet.links = state.links
                sheet.notices.look(sheet)

    def _put_aside(self) -> None:
        opened, self._current = self._current, None
        if opened is None:
            return
        if opened.sheet.unsigned or opened.sheet.busy:
            self._aside.append(opened)
        else:
            self._drop(opened)
        self.changed.emit()

    def _take(self, opened: _Open) -> None:
        self._put_aside()
        self._aside = [o for o in self._aside if o is not opened]
        self._current = opened
        self.show()

    def _drop(self, opened: _Open) -> None:
        opened.sheet.stop_live()
        opened.sheet.reads.forget()
        self._leave_place(opened.sheet.keeper.tape.let_go)
        self._stage.let_go(opened.sheet)

    def _leave_place(self, let_go: Callable[[], None]) -> None:
        """Leave a tape to whoever opens its sheet next: the program does not end before that is done."""
        failed = lambda error: self._stage.tell(f"Readings are not kept: {error.message}", "bad")  # noqa: E731
        self._leaving = [work for work in self._leaving if work.busy]
        self._leaving.append(self._front.behind(lambda _: let_go(), lambda _: None, failed, last=True))

    def _finish(self) -> None:
        """Close the sheet in hand; go on with the next one in the queue, or back to where we came from."""
        opened = self._current
        if opened is None or self._wanted is not None:
            return
        c = opened.sheet
        signed = c.receipt is not None
        result = c.session.evaluate() if self.in_round and signed else None
        found = None if isinstance(result, NonnaError) else result
        stop = rounds.stop_words(c.session.procedure.title, found, c.units)
        self._source = c.source if self.in_round else "typed"
        self._stage.tell("", "plain")
        if signed and self._queue and not stop:
            self._open_next()  # this one is looked at until then
            return
        self._current = None
        self._drop(opened)
        finished = self.in_round and signed and not self._queue and not stop
        self._queue, self.in_round, self._source = [], False, "typed"
        self._stage.look_again()
        self._stage.come_to(opened.origin)
        if stop:
            self._stage.tell(stop, "bad")
        elif finished:
            self._stage.tell("The round is done.", "good")
        self.changed.emit()

    def _open_next(self) -> None:
        """Ask for the next sheet of the queue: book and disk are read behind, one sheet at a time."""
        stage = self._stage
        name, subject = self._queue.pop(0)
        if stage.site is None:
            stage.come_to(self._origin)
            return
        self._wanted = _Wanted(stage.site, name, subject)
        if not self._reading:
            self._read(self._wanted)

    def _read(self, wanted: _Wanted) -> None:
        from nonna.bench.sheet.drafts import started

        leaving = tuple(self._leaving)

        def read(_: Task) -> Started:
            for work in leaving:  # it may be this very sheet that was left
                work.ended()
            return started(wanted.site, wanted.name, wanted.subject)

        self._reading = True
        self._front.behind(read, partial(self._on_read, wanted), partial(self._on_read, wanted))

    def _on_read(self, wanted: _Wanted, found: Started | NonnaError) -> None:
        self._reading = False
        if wanted is not self._wanted:  # something else was asked for meanwhile
            if not isinstance(found, NonnaError):
                self._leave_place(found.place.let_go)
            if self._wanted is not None:
                self._read(self._wanted)
            return
        self._wanted = None
        self._put_aside()
        if isinstance(found, NonnaError):
            self._queue, self.in_round = [], False
            self._stage.come_to(self._origin)
            self._stage.tell(found.message, "bad")
        else:
            self._begin(wanted, found)

    def _begin(self, wanted: _Wanted, started: Started) -> None:
        from nonna.bench.session.sheet.open_sheet import OpenSheet

        stage = self._stage
        links = stage.state.links if stage.state else ()
        sheet = OpenSheet(stage.front_of_sheet(), wanted.site, started, stage.operator, stage.units, links, stage.world)
        sheet.in_round = self.in_round
        if not sheet.session.rows:
            sheet.source = self._source
        stage.present(sheet)
        sheet.left.connect(self._finish)
        sheet.signed.connect(lambda _: stage.look_again())
        sheet.changed.connect(partial(self._on_changed, sheet))
        if started.draft:
            sheet.changed.emit()  # kept as it is now: what is carried is today's
        self._current = _Open(sheet, self._origin)
        LOG.info("sheet %s of %s opened on %s", wanted.name, wanted.subject, stage.machine_name)
        self._front.later(0, partial(self._show_opened, self._current))  # opened and painted in one go: a stall
        stage.tell(started.words, "due")

    @property
    def opening(self) -> bool:
        """Whether a sheet is asked for and not there yet."""
        return self._wanted is not None or self._reading

    def _show_opened(self, opened: _Open) -> None:
        if opened is self._current:
            self.show()
