"""The sheets of a window: one in hand, others put aside unsigned, one thrown away that can be had back."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, Signal

from nonna.bench.job import rounds
from nonna.desk.commands.ids import CommandId
from nonna.desk.frame.sheet_host import SheetHost
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import LastWork, Task, Work
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.sheet.drafts import Started
    from nonna.bench.station.site import Site
    from nonna.desk.pages.sheet.draft_keeper import DraftKeeper
    from nonna.desk.pages.sheet.view import SheetView
    from nonna.shop.links.subjects import Subject
    from nonna.wording.lengths import Units

LOG = logging.getLogger("nonna")
MOST_SPARES = 2


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
    """A sheet with what keeps its draft, and where it was opened from."""

    view: SheetView
    keeper: DraftKeeper
    origin: str

    @property
    def wanted(self) -> tuple[str, str, Subject]:
        """What it is a sheet of: station, procedure, subject."""
        c = self.view.controller
        return (c.site.machine.name, c.session.name, c.session.facts.subject)

    @property
    def words(self) -> str:
        """What it is called where it waits."""
        c = self.view.controller
        count = len(c.session.live)
        return f"{c.session.procedure.title}, {count} reading{'' if count == 1 else 's'}"


class OpenSheets(QObject):
    """Opens, puts aside, takes up, throws away. What is on a tape is never lost by leaving a page."""

    changed = Signal()  #: what waits is not what it was

    def __init__(self, window: SheetHost, parent: QObject) -> None:
        super().__init__(parent)
        self._window = window
        self._current: _Open | None = None
        self._aside: list[_Open] = []
        self._thrown: _Open | None = None
        self._spares: list[SheetView] = []  #: views that show no sheet at present
        self._queue: list[tuple[str, Subject]] = []
        self._wanted: _Wanted | None = None  #: the sheet that is being opened
        self._reading: Work | None = None
        self._origin: str = CommandId.LOOP
        self.in_round = False
        self._source = "typed"

    @property
    def current(self) -> SheetView | None:
        """The sheet in hand, in front or behind another page."""
        return self._current.view if self._current else None

    @property
    def all(self) -> tuple[SheetView, ...]:
        """Every open sheet, those put aside first."""
        return tuple(o.view for o in (*self._aside, *([self._current] if self._current else ())))

    @property
    def unsigned(self) -> tuple[SheetView, ...]:
        """Open sheets with readings that no record holds yet."""
        return tuple(view for view in self.all if view.controller.unsigned)

    @property
    def waiting(self) -> str:
        """What waits behind other pages, in words, "" when nothing does."""
        hidden = [*self._aside, *([self._current] if self._current and not self.in_front else ())]
        hidden = [o for o in hidden if o.view.controller.unsigned or o.view.controller.busy]
        if not hidden:
            return ""
        more = f" and {len(hidden) - 1} more" if len(hidden) > 1 else ""
        return f"{hidden[-1].words}{more}"

    @property
    def in_front(self) -> bool:
        """Whether the sheet in hand is what is seen."""
        return self._current is not None and self._window.shows(self._current.view)

    def open(self, wanted: Sequence[tuple[str, Subject]], origin: str, *, in_round: bool = False) -> None:
        """Open sheets (procedure, subject) one after another; one with readings in hand is put aside first."""
        first = (self._window.machine_name, *wanted[0])
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
        self._window.show_page(self._current.view, self._current.origin)
        self._current.view.take_keyboard()
        self.changed.emit()
        return True

    def leave(self) -> None:
        """Leave the sheet in hand: what is on its tape waits; one that is signed or empty is closed."""
        opened = self._current
        if opened is None:
            return
        if opened.view.controller.unsigned or opened.view.controller.busy:
            self._window.come_to(opened.origin)
            self._window.tell("", "plain")
            self.changed.emit()
            return
        self._finish()

    def throw_away(self) -> None:
        """Throw the sheet in hand away with its readings; `bring_back` undoes it."""
        opened = self._current
        if opened is None:
            return
        opened.view.controller.standin.cancel()
        opened.view.controller.stop_live()
        opened.view.controller.reads.forget()
        opened.keeper.forget()
        if self._thrown is not None:
            self._drop(self._thrown)
        self._thrown, self._current = opened, None
        self._window.remove_page(opened.view)
        self._queue, self.in_round = [], False
        self._window.come_to(opened.origin)
        self._window.tell(f"{opened.words} thrown away. Ctrl+Z brings them back.", "due")
        self.changed.emit()

    def bring_back(self) -> bool:
        """Take up again what was thrown away last; says whether there was anything."""
        if self._thrown is None:
            return False
        opened, self._thrown = self._thrown, None
        self._put_aside()
        self._window.add_page(opened.view)
        opened.view.show_units(self._window.units)  # changed meanwhile, perhaps
        self._current = opened
        self._window.tell("", "plain")
        opened.view.controller.changed.emit()  # its draft is kept again
        self.show()
        return True

    def let_go(self) -> None:
        """Leave every sheet to its draft: the shop or the station is changed, or the window closes."""
        self._wanted = None
        if self.in_front:
            self._window.go(CommandId.LOOP)
        for opened in (*self._aside, *([self._current] if self._current else ())):
            opened.view.controller.standin.cancel()
            self._drop(opened)
        self._aside, self._current, self._queue, self.in_round = [], None, [], False
        self.changed.emit()

    def show_units(self, units: Units) -> None:
        """Change the unit of every sheet."""
        for view in self.all:
            view.show_units(units)

    def state_changed(self) -> None:
        """The shop was read afresh: sheets look again whether what they rest on holds."""
        state = self._window.state
        for view in self.all:
            if state is not None and view.controller.site.machine.name == state.machine:
                view.controller.links = state.links

    def _put_aside(self) -> None:
        opened, self._current = self._current, None
        if opened is None:
            return
        if opened.view.controller.unsigned or opened.view.controller.busy:
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
        opened.view.controller.stop_live()
        opened.view.controller.reads.forget()
        self._leave_place(opened.keeper.tape.let_go)
        opened.view.let_go()
        if len(self._spares) < MOST_SPARES:
            self._spares.append(opened.view)
        else:
            self._window.remove_page(opened.view)
            opened.view.deleteLater()

    def _leave_place(self, let_go: Callable[[], None]) -> None:
        """Leave a tape to whoever opens its sheet next: the program does not end before that is done."""
        work = LastWork(lambda _: let_go(), self)
        work.failed.connect(lambda error: self._window.tell(f"Readings are not kept: {error.message}", "bad"))
        work.start()

    def _finish(self) -> None:
        """Close the sheet in hand; go on with the next one in the queue, or back to where we came from."""
        opened = self._current
        if opened is None or self._wanted is not None:
            return
        c = opened.view.controller
        signed = c.receipt is not None
        result = c.session.evaluate() if self.in_round and signed else None
        found = None if isinstance(result, NonnaError) else result
        stop = rounds.stop_words(c.session.procedure.title, found, c.units)
        self._source = c.source if self.in_round else "typed"
        self._window.tell("", "plain")
        if signed and self._queue and not stop:
            self._open_next()  # this one is looked at until then
            return
        self._current = None
        self._drop(opened)
        finished = self.in_round and signed and not self._queue and not stop
        self._queue, self.in_round, self._source = [], False, "typed"
        self._window.look_again()
        self._window.come_to(opened.origin)
        if stop:
            self._window.tell(stop, "bad")
        elif finished:
            self._window.tell("The round is done.", "good")
        self.changed.emit()

    def _open_next(self) -> None:
        """Ask for the next sheet of the queue: book and disk are read behind, one sheet at a time."""
        window = self._window
        name, subject = self._queue.pop(0)
        if window.site is None:
            window.come_to(self._origin)
            return
        self._wanted = _Wanted(window.site, name, subject)
        if self._reading is None:
            self._read(self._wanted)

    def _read(self, wanted: _Wanted) -> None:
        from nonna.bench.sheet.drafts import started

        leaving = [work.worker for work in self.findChildren(LastWork) if work.busy]

        def read(_: Task) -> Started:
            for worker in leaving:  # it may be this very sheet that was left
                worker.join()
            return started(wanted.site, wanted.name, wanted.subject)

        self._reading = Work(read, self)
        self._reading.done.connect(partial(self._on_read, wanted))
        self._reading.failed.connect(partial(self._on_read, wanted))
        self._reading.start()

    def _on_read(self, wanted: _Wanted, found: Started | NonnaError) -> None:
        self._reading = None
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
            self._window.come_to(self._origin)
            self._window.tell(found.message, "bad")
        else:
            self._begin(wanted, found)

    def _begin(self, wanted: _Wanted, started: Started) -> None:
        from nonna.desk.pages.sheet.controller import SheetController
        from nonna.desk.pages.sheet.draft_keeper import DraftKeeper

        window = self._window
        links = window.state.links if window.state else ()
        controller = SheetController(wanted.site, started, window.operator, window.units, links, window.world)
        controller.in_round = self.in_round
        if not controller.session.rows:
            controller.source = self._source
        keeper = DraftKeeper(controller, started.place)
        view = self._view()
        view.take(controller)
        view.live_url = window.settings.indicator
        controller.left.connect(self._finish)
        controller.signed.connect(lambda _: window.look_again())
        controller.changed.connect(self.changed)
        if started.draft:
            controller.changed.emit()  # kept as it is now: what is carried is today's
        self._current = _Open(view, keeper, self._origin)
        LOG.info("sheet %s of %s opened on %s", wanted.name, wanted.subject, window.machine_name)
        next_turn(view, partial(self._show_opened, self._current))  # opened and painted in one go: a stall
        window.tell(started.words, "due")

    @property
    def opening(self) -> bool:
        """Whether a sheet is asked for and not there yet."""
        return self._wanted is not None or self._reading is not None

    def _show_opened(self, opened: _Open) -> None:
        if opened is self._current:
            self.show()

    def _view(self) -> SheetView:
        """Return a view that shows no sheet: one that was let go (a new one takes 60 ms more), or a new one."""
        from nonna.desk.pages.sheet.view import SheetView

        if self._spares:
            view = self._spares.pop()
        else:
            view = SheetView()
            view.left.connect(self.leave)
        self._window.add_page(view)  # one that was thrown away is no longer there
        return view
