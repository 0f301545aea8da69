"""Keeps what a window shows of its shop up to date: read behind, and only where something changed."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from nonna.bench import clock
from nonna.bench.ports import ShopFiles
from nonna.bench.state import ShopState, read_state
from nonna.desk.work import Work
from nonna.errors import NonnaError


class ShopReader(QObject):
    """Reads the state of one station after another; the last one asked for counts."""

    read = Signal(object)  #: a ShopState
    failed = Signal(object)  #: a NonnaError

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._marks: tuple[object, ...] = ()
        self._looking: Work | None = None

    @property
    def busy(self) -> bool:
        """Whether something is being read."""
        return self._looking is not None

    def read_now(self, folder: ShopFiles, station: str, shown: str) -> None:
        """Read at once: nothing can be shown before. ``shown`` is the station's files, "" for the first."""
        self._marks, self._looking = _marks(folder, shown), None
        try:
            self.read.emit(read_state(folder, station=station))
        except NonnaError as error:
            self.failed.emit(error)

    def look_again(self, folder: ShopFiles, station: str, shown: str) -> bool:
        """Read behind, where anything changed since the last time; says whether it did."""
        marks = _marks(folder, shown)
        if marks == self._marks:
            return False
        self._marks = marks
        self._looking = work = Work(lambda _: read_state(folder, station=station), self)
        work.done.connect(lambda found: self._on_read(work, found))
        work.failed.connect(lambda error: self._on_read(work, error))
        work.start()
        return True

    def drop(self) -> None:
        """Forget what is under way: another shop or station is shown."""
        self._looking = None

    def _on_read(self, asked: Work, found: ShopState | NonnaError) -> None:
        asked.deleteLater()
        if asked is not self._looking:
            return  # something newer is under way
        self._looking = None
        (self.failed if isinstance(found, NonnaError) else self.read).emit(found)


def _marks(folder: ShopFiles, shown: str) -> tuple[object, ...]:
    """What tells whether the shop has to be read again: its files, its book, and the hour, for links fall due."""
    now = clock.now()
    return (folder, folder.marks(shown), folder.book.marks(), now.date(), now.hour)
