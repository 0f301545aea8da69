"""One line of words asked for, with what it is for."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from nonna.desk.forms.widgets import label
from nonna.desk.look.style import worn


class NoteDialog(QDialog):
    """Asks for a note; Enter gives it, Esc leaves."""

    given = Signal(str)

    def __init__(self, words: str, hint: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self.line = worn(QLineEdit())
        self.line.setPlaceholderText(hint)
        self.line.setAccessibleName(words)
        self.line.setToolTip(self.tr("A few words for whoever reads the book later."))
        self._said = label("", tone="bad", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(22, 18, 22, 18)
        column.addWidget(label(words, "title", wrap=True))
        column.addWidget(self.line)
        column.addWidget(self._said)
        column.addWidget(label(self.tr("Enter signs it, Esc leaves everything as it was."), "quiet"))
        self.resize(520, 160)
        self.line.returnPressed.connect(self._on_enter)

    def _on_enter(self) -> None:
        if not self.line.text().strip():
            self._said.setText(self.tr("A word or two: the book keeps it."))
            return
        self.accept()
        self.given.emit(self.line.text().strip())
