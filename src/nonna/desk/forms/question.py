"""A question asked once before something is thrown away."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from nonna.desk.forms.widgets import button, label


class QuestionDialog(QDialog):
    """Enter does it, Esc keeps everything; a key held down answers nothing.

    Parameters: keep, what Esc means where it is more than leaving things as they are.
    """

    def __init__(self, words: str, action: str, do: Callable[[], object], parent: QWidget, keep: str = "") -> None:
        super().__init__(parent)
        keep = keep or self.tr("Keep")
        self._do = do
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 18)
        column.setSpacing(12)
        column.addWidget(label(words, "title", wrap=True))
        row = QHBoxLayout()
        row.addStretch()
        row.addWidget(button(f"{keep}   Esc", self.reject, keep, focus=False))
        row.addWidget(button(f"{action}   Enter", self._yes, action, main=True, focus=False))
        column.addLayout(row)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.resize(520, 130)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter and Esc, pressed afresh."""
        if event.isAutoRepeat():
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._yes()
        elif event.key() == Qt.Key.Key_Escape:
            self.reject()

    def _yes(self) -> None:
        self.accept()
        self._do()
