"""What threads tell, handed over on the Qt thread.

A thread never touches a Qt object: the one it would tell could be going at that very moment, and take the program
along.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from queue import Empty, SimpleQueue
from typing import Generic, TypeVar
from weakref import WeakMethod

from PySide6.QtCore import QObject, QTimer

from nonna.desk.threads.event_turns import next_turn

L = TypeVar("L")  #: a letter
EVERY_MS, AT_ONCE_S = 8, 0.006


class Post(QObject, Generic[L]):
    """A box that any thread may put letters into, and that is emptied on the thread that made it."""

    def __init__(self, read: Callable[[L], None], parent: QObject) -> None:
        super().__init__(parent)
        self.box: SimpleQueue[L] = SimpleQueue()  #: all that a thread may hold of it
        self._read = WeakMethod(read)  # or owner and box would wait for the collector, which may come by on any thread
        self._pending = False  #: its turn comes
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self._empty)

    def open(self) -> None:
        """Look into the box from now on."""
        self._timer.start()

    def close(self) -> None:
        """Look no more."""
        self._timer.stop()

    def read_all(self) -> None:
        """Read what is in the box now, without waiting for its turn."""
        while not self.box.empty() and (read := self._read()) is not None:
            read(self.box.get_nowait())

    def _empty(self) -> None:
        if not self._pending and not self.box.empty():
            self._pending = True
            next_turn(self, self._read_some)

    def _read_some(self) -> None:
        self._pending = False
        begun = time.perf_counter()
        while time.perf_counter() - begun < AT_ONCE_S:  # a flood waits: keys come in between
            try:
                letter = self.box.get_nowait()
            except Empty:
                return
            read = self._read()
            if read is None:
                return
            read(letter)
