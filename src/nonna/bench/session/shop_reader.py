"""Keeps what a window shows of its shop up to date: read behind, and only where something changed."""

from __future__ import annotations

from contextlib import suppress
from typing import TYPE_CHECKING, NamedTuple

from nonna.bench import clock
from nonna.bench.ports import ShopFiles
from nonna.bench.session.signals import Signal
from nonna.bench.station.state import ShopState, glanced_at, site_shown, state_of
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.session.front import Front, Running
    from nonna.bench.station.site import Site

FIRST_PICTURE_S = 2.0  #: that a window waits for a slow disk before it stands there without its loop
ONCE_MORE_MS = 1500  #: what another program was just signing can be read by then


class Seen(NamedTuple):
    """A station as it was read."""

    folder: ShopFiles
    state: ShopState
    marks: tuple[object, ...]


class _Asked(NamedTuple):
    """What is to be looked at again."""

    folder: ShopFiles
    station: str
    shown: str  #: the station's files, "" for the first
    site: Site | None


class ShopReader:
    """Reads the state of one station after another; the last one asked for counts."""

    def __init__(self, front: Front) -> None:
        self._front = front
        self.read: Signal[[Seen]] = Signal()  #: the station that is shown
        self.moved: Signal[[Seen]] = Signal()  #: another one
        self.failed: Signal[[NonnaError]] = Signal()
        self.not_moved: Signal[[ShopFiles, NonnaError]] = Signal()  #: what could not be opened, and why
        self.once_more: Signal[[]] = Signal()  #: some time after something changed: look again
        self._marks: tuple[object, ...] = ()
        self._comparing: object = None  #: of what tells whether anything changed
        self._asked: _Asked | None = None  #: that is compared after that
        self._looking: object = None  #: what is being read
        self._held: Seen | NonnaError | None = None  #: what was read while it is found out whether that is the latest
        self._moving = False  #: whether it is another station, or another shop
        self._glanced = False  #: whether what is shown was read at a glance
        self._later: Running | None = None

    @property
    def busy(self) -> bool:
        """Whether something is being read, or still has to be."""
        return self._looking is not None or self._comparing is not None or self._glanced

    def begin(self, folder: ShopFiles, station: str) -> bool:
        """Read at a glance, for the first picture, which waits for it a moment: says whether it is there.

        The next look again reads the rest.
        """

        def glance() -> Seen:
            marks = _marks(folder, station)  # before it is read: a change meanwhile is seen next time
            return Seen(folder, glanced_at(folder, station), marks)

        looking = self._looking = object()
        work = self._front.behind(
            lambda _: glance(), lambda found: self._on_glanced(looking, found), lambda e: self._on_read(looking, e)
        )
        return work.hand_over(FIRST_PICTURE_S)

    def _on_glanced(self, looking: object, found: Seen) -> None:
        if self._is_latest(looking):
            self._glanced = True
            self.take(found)

    def look_again(self, folder: ShopFiles, station: str, shown: str, site: Site | None) -> None:
        """Read behind, where anything changed since the last time or was only glanced at.

        Nothing that was read before is shown once this was asked for, but what turns out to be the latest. Not while
        another station or shop is being read: that one is what is shown next.
        """
        if self._moving:
            return
        self._asked = _Asked(folder, station, shown, site)
        if self._comparing is None:
            self._compare()

    def _compare(self) -> None:
        asked, self._asked = self._asked, None
        if asked is None:
            return
        comparing = self._comparing = object()

        def on_compared(found: tuple[object, ...] | NonnaError) -> None:
            self._on_compared(comparing, asked, found)

        self._front.behind(lambda _: _marks(asked.folder, asked.shown), on_compared, on_compared)

    def _on_compared(self, comparing: object, asked: _Asked, marks: tuple[object, ...] | NonnaError) -> None:
        if comparing is not self._comparing:
            return  # another station is being read
        self._comparing = None
        if self._asked is not None:
            self._compare()
        elif marks == self._marks and not self._glanced:
            held, self._held = self._held, None
            if held is not None:
                self._tell(held)
        elif isinstance(marks, NonnaError):
            self.failed.emit(marks)
        else:
            self._marks, self._glanced, self._held = marks, False, None
            self._read(asked, marks)

    def _read(self, asked: _Asked, marks: tuple[object, ...]) -> None:
        looking = self._looking = object()

        def on_read(found: Seen | NonnaError) -> None:
            self._on_read(looking, found)

        self._front.behind(lambda _: look(asked, marks), on_read, on_read)

    def move(self, folder: ShopFiles, station: str) -> None:
        """Read another station, or another shop, behind."""

        def look() -> Seen:
            from nonna.bench.station.site import open_site  # late: it looks into records

            site = open_site(folder, station)
            marks = _marks(folder, site.key)  # before its records are read: a change meanwhile is seen next time
            return _foreseen(Seen(folder, state_of(site), marks))

        self._moving, self._glanced = True, False
        self._marks = ()  # where nothing comes of it, what is shown is looked at again
        self._comparing, self._asked, self._held = None, None, None
        looking = self._looking = object()
        self._front.behind(
            lambda _: look(),
            lambda found: self._on_moved(looking, found),
            lambda error: self._on_not_moved(looking, folder, error),
        )

    def take(self, seen: Seen) -> None:
        """What is shown from now on is this."""
        self._marks = seen.marks
        self._look_later()
        self.read.emit(seen)

    def _look_later(self) -> None:
        if self._later is not None:
            self._later.cancel()
        self._later = self._front.later(ONCE_MORE_MS, self.once_more.emit)

    def _on_read(self, looking: object, found: Seen | NonnaError) -> None:
        if not self._is_latest(looking):
            return
        if self._comparing is not None:
            self._held = found
        else:
            self._tell(found)

    def _tell(self, found: Seen | NonnaError) -> None:
        self._look_later()
        if isinstance(found, NonnaError):
            self.failed.emit(found)
        else:
            self.read.emit(found)

    def _on_moved(self, looking: object, found: Seen) -> None:
        if self._is_latest(looking):
            self.moved.emit(found)

    def _on_not_moved(self, looking: object, folder: ShopFiles, error: NonnaError) -> None:
        if self._is_latest(looking):
            self.not_moved.emit(folder, error)

    def _is_latest(self, looking: object) -> bool:
        if looking is not self._looking:
            return False  # something newer is under way
        self._looking, self._moving = None, False
        return True


def look(asked: _Asked, marks: tuple[object, ...]) -> Seen:
    """Read a station's state, and its files again where somebody changed them since."""
    folder, station, _, site = asked
    fresh = site if site is not None and site.is_fresh() else site_shown(folder, station)
    return _foreseen(Seen(folder, state_of(fresh), marks))


def _foreseen(seen: Seen) -> Seen:
    """Read on until what the hands may ask next is known too."""
    from nonna.bench.tray.read_ahead import foresee

    with suppress(NonnaError):  # a damaged record is said by whoever rests on it
        foresee(seen.state.results, seen.state.kind, (tool.subject for tool in seen.state.tools))
    return seen


def _marks(folder: ShopFiles, shown: str) -> tuple[object, ...]:
    """What tells whether the shop has to be read again: its files, its book, and the hour, for links fall due."""
    now = clock.now()
    return (folder, folder.marks(shown), folder.book.marks(), now.date(), now.hour)
