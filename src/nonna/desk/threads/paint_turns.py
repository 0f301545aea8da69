"""Painting in a turn of its own: a filter that holds the first request back."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt
from PySide6.QtWidgets import QWidget

from nonna.desk.threads.event_turns import next_turn


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
            next_turn(self, self._ask_again)
        return self._put_off

    def _ask_again(self) -> None:
        request = QEvent(QEvent.Type.UpdateRequest)
        QCoreApplication.postEvent(self._window, request, Qt.EventPriority.LowEventPriority.value)
