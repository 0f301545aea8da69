"""Garbage is collected on the Qt thread alone.

Python collects cycles on whichever thread happens to allocate. A cycle that holds widgets, freed on a
worker thread, destroys Qt objects away from their own thread and takes the program down.
"""

from __future__ import annotations

import ctypes
import gc
import sys

from PySide6.QtCore import QObject, QTimer

EVERY_MS = 400
_PLENTY = 1 << 40


class Tidier(QObject):
    """Takes collection over from Python: looks now and then, on the thread it lives on."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thresholds = gc.get_threshold()
        gc.disable()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.tidy)
        self._timer.start(EVERY_MS)

    def tidy(self) -> None:
        """Collect what Python would have collected by now; whoever switched Python's own collecting on is overruled."""
        gc.disable()
        for generation, (count, threshold) in reversed(
            list(enumerate(zip(gc.get_count(), self._thresholds, strict=True)))
        ):
            if count > threshold > 0:
                gc.collect(generation)
                return


def collect_on_this_thread(app: QObject) -> None:
    """Have garbage collected on the application's thread; asking twice does no harm."""
    if app.findChild(Tidier) is None:
        keep_none_alive()
        Tidier(app)


def keep_none_alive() -> None:
    """Give None so many references that it is never freed, as Python does itself from 3.12 on (PEP 683).

    The Qt binding takes one reference to None too many for each of our methods that it calls and that
    returns nothing (painting, data of a table); before 3.12 that adds up until None is freed and Python aborts.
    """
    if sys.implementation.name == "cpython" and sys.version_info < (3, 12) and sys.getrefcount(None) < _PLENTY:
        ctypes.c_ssize_t.from_address(id(None)).value += _PLENTY
