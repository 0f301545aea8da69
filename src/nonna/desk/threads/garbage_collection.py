"""Garbage is collected on the Qt thread alone.

Python collects cycles on whichever thread happens to allocate. A cycle that holds widgets, freed on a
worker thread, destroys Qt objects away from their own thread and takes the program down.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QCoreApplication, QObject, QTimer

EVERY_MS = 400
_HELD = "_nonna_collector"


class Collector(QObject):
    """Takes collection over from Python: looks now and then, on the thread it lives on."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thresholds = gc.get_threshold()
        gc.disable()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.collect_what_is_due)
        self._timer.start(EVERY_MS)

    def collect_what_is_due(self) -> None:
        """Collect what Python would have collected by now; whoever switched Python's own collecting on is overruled."""
        gc.disable()
        for generation, (count, threshold) in reversed(
            list(enumerate(zip(gc.get_count(), self._thresholds, strict=True)))
        ):
            if count > threshold > 0:
                gc.collect(generation)
                return

    def spare_what_stays(self) -> None:
        """Leave out of later collections what is there now: modules and models that stay as long as the program.

        Going through all of them takes a tenth of a second, in the middle of whatever the hands are doing.
        """
        gc.freeze()


def spare_what_stays() -> None:
    """Have the application's collector leave out what is there now; without one nothing is left out."""
    collector = getattr(QCoreApplication.instance(), _HELD, None)
    if isinstance(collector, Collector):
        collector.spare_what_stays()


def collect_on_this_thread(app: QObject) -> None:
    """Have garbage collected on the application's thread; asking twice does no harm."""
    if getattr(app, _HELD, None) is None:  # not by findChild: that makes half of the binding's classes, at start-up
        setattr(app, _HELD, Collector(app))
