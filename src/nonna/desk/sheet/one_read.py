"""What a sheet goes on with is read behind the screen, one thing at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from nonna.desk.work import Work
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

        def ended(found: T) -> None:
            self._work = None
            done(found)

        self._work = Work(lambda _: function(), self)
        self._work.done.connect(ended)
        self._work.failed.connect(self._on_failed)
        self._work.start()

    def _on_failed(self, error: NonnaError) -> None:
        self._work = None
        self.failed.emit(error)
