"""What waits for the next turn of the event loop, so that keys get through between the pieces of long work."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt, QTimer
from PySide6.QtWidgets import QWidget

NOT_IN_HAND_MS = 20  #: windows that nobody works in are painted after the one in hand


def next_turn(owner: QObject, act: Callable[[], object]) -> None:
    """Do something in a later turn, unless its owner has gone by then.

    Twice round: a timer set while a key is handled still rings in the turn of that key.
    """
    QTimer.singleShot(0, owner, lambda: QTimer.singleShot(0, owner, act))


class PaintsApart(QObject):
    """Gives the painting of a window a turn of its own, after the one that changed what is painted."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self._put_off = False
        window.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Hold the first request to paint back and ask again a turn later; all else passes."""
        if event.type() != QEvent.Type.UpdateRequest:
            return False
        self._put_off = not self._put_off
        if self._put_off:
            QTimer.singleShot(0 if self._window.isActiveWindow() else NOT_IN_HAND_MS, self, self._ask_again)
        return self._put_off

    def _ask_again(self) -> None:
        request = QEvent(QEvent.Type.UpdateRequest)
        QCoreApplication.postEvent(self._window, request, Qt.EventPriority.LowEventPriority.value)
