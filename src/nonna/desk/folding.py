"""Frames side by side, one of which gives its room to the others where there is too little for all."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget


class FoldingRow(QWidget):
    """A drawing gives way to numbers: no number is ever cut for it."""

    folded = Signal(bool)  #: whether it has given way now

    def __init__(self, frames: Sequence[tuple[QWidget, int]], folds: QWidget, least: int) -> None:
        """Parameters: frames with their stretch; folds, the one that gives way below so many pixels in all."""
        super().__init__()
        self._folds, self._least = folds, least
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        for frame, stretch in frames:
            row.addWidget(frame, stretch)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share out the room."""
        narrow = self.width() < self._least
        if narrow is self._folds.isVisibleTo(self):
            self._folds.setVisible(not narrow)
            self.folded.emit(narrow)
        super().resizeEvent(event)
