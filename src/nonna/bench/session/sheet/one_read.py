"""What a sheet goes on with is read behind the screen, one thing at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from nonna.bench.session.signals import Signal

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.errors import NonnaError

T = TypeVar("T")


class OneRead:
    """Reads for one sheet; nothing may be changed on it meanwhile."""

    def __init__(self, front: Front) -> None:
        self._front = front
        self._reading: object = None  #: what is being read, None where nothing is
        self.busy = False  #: whether something is being read
        self.failed: Signal[[NonnaError]] = Signal()

    def start(self, function: Callable[[], T], done: Callable[[T], object]) -> None:
        """Read, and go on with what came of it."""
        reading, self.busy = object(), True
        self._reading = reading

        def ends(act: Callable[[], object]) -> None:
            if reading is self._reading:
                self.forget()
                act()

        self._front.behind(
            lambda _: function(), lambda found: ends(lambda: done(found)), lambda e: ends(lambda: self.failed.emit(e))
        )

    def forget(self) -> None:
        """Go on with nothing of what is being read: the sheet is left."""
        self._reading, self.busy = None, False
