"""What stands in a tray without tools: the four ways to fill it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from nonna.desk.forms.widgets import button, label


class EmptyTray(QWidget):
    """Buttons that say their keys; what is pressed is done by whoever listens."""

    asked = Signal(str)  #: "grid", "paste", "take" or "add"

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 24, 24, 24)
        column.setSpacing(10)
        column.addWidget(label(self.tr("No tools yet"), "title"))
        column.addWidget(label(self.tr("Number, kind and diameter are enough to begin with."), "quiet", wrap=True))
        for wish, words, main in (
            ("grid", self.tr("Type them in a grid   Ctrl+G"), True),
            ("paste", self.tr("Paste rows of a spreadsheet   Ctrl+V"), False),
            ("take", self.tr("Take a table in: CSV, JSON, XML   Ctrl+I"), False),
            ("add", self.tr("Add one   N"), False),
        ):
            column.addWidget(button(words, partial(self.asked.emit, wish), main=main, focus=False))
        column.addStretch(1)
