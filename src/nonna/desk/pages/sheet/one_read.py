"""What a sheet goes on with is read behind the screen, one thing at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from nonna.desk.threads.work import Work
from nonna.errors import NonnaError

T = TypeVar("T")


class OneRead(QObject):
    """Reads for one sheet; nothing may be changed on it meanwhile."""

    failed = Signal(object)  #: a NonnaError

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._work: Work | None = None

    @property
    def busy(self) -> bool:
        """Whether something is being read."""
        return self._work is not None

    def start(self, function: Callable[[], T], done: Callable[[T], object]) -> None:
        """Read, and go on with what came of it."""

        def on_done(found: T) -> None:
            if self._ends(work):
                done(found)

        def on_failed(error: NonnaError) -> None:
            if self._ends(work):
                self.failed.emit(error)

        self._work = work = Work(lambda _: function(), self)
        work.done.connect(on_done)
        work.failed.connect(on_failed)
        work.start()

    def forget(self) -> None:
        """Go on with nothing of what is being read: the sheet is left."""
        self._work = None

    def _ends(self, work: Work) -> bool:
        if work is not self._work:
            return False
        self._work = None
        return True
