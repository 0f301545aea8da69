"""The chosen tool's plan in numbers, what rehearsing the job found, and the next thing to press."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QProgressBar, QVBoxLayout, QWidget

from nonna.bench.session.tray.picture import PanelState
from nonna.desk.forms.widgets import Card, Words, button, card, label
from nonna.desk.look.style import worn


class TouchPanel(Card):
    """Paints a PanelState; reports what is pressed."""

    acted = Signal()
    second_acted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(1)
        self._grid.setColumnStretch(0, 1)
        self._rows: list[tuple[Words, Words, Words]] = []
        self._frame, inside = card(tone="plain", margins=(12, 8, 12, 8), spacing=3)
        self._headline, self._words = label("", "finding", wrap=True), label("", "", wrap=True)
        self._words.setAlignment(Qt.AlignmentFlag.AlignTop)
        inside.addWidget(self._headline)
        inside.addWidget(self._words)
        self._value = (label("", "quiet"), label("", "figure"), label("", "doubt"))
        self._bar = worn(QProgressBar())
        self._bar.setTextVisible(False)
        self._bar.setAccessibleName(self.tr("Measuring"))
        self.main = button("", self.acted.emit, self.tr("Next step"), main=True)
        self._second = button("", self.second_acted.emit, self.tr("Another way"))
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 8, 16, 8)
        column.setSpacing(4)
        length = QHBoxLayout()
        length.addWidget(self._value[1])
        length.addStretch()
        length.addWidget(self._value[2], 0, Qt.AlignmentFlag.AlignBottom)
        column.addWidget(self._value[0])
        column.addLayout(length)
        column.addLayout(self._grid)
        column.addStretch(1)
        for widget in (self._frame, self._bar, self.main, self._second):
            column.addWidget(widget)

    def show_state(self, state: PanelState) -> None:
        """Repaint everything from one value."""
        while len(self._rows) < len(state.rows):
            made = (label("", "quiet"), label("", "title"), label("", "quiet"))
            made[1].setAlignment(Qt.AlignmentFlag.AlignRight)
            for column, widget in enumerate(made):
                self._grid.addWidget(widget, len(self._rows), column)
            self._rows.append(made)
        for i, widgets in enumerate(self._rows):
            texts = state.rows[i] if i < len(state.rows) else ("", "", "")
            for widget, text in zip(widgets, texts, strict=True):
                widget.setText(text)
                widget.setVisible(i < len(state.rows))
        for part, text in zip(self._value, state.value, strict=True):
            part.setText(text)
            part.setVisible(bool(state.value[1]))
        self._headline.setText(state.headline)
        self._words.setText(state.words)
        self._frame.show_tone(state.tone)
        self._headline.show_tone(state.tone if state.tone in ("bad", "due") else "")
        self._frame.setVisible(bool(state.headline or state.words))
        for pressed, words in ((self.main, state.action), (self._second, state.second)):
            pressed.setText(words)
            pressed.setAccessibleName(words or self.tr("Nothing to press"))
            pressed.setVisible(bool(words))
        self._bar.setVisible(state.progress is not None)
        if state.progress is not None:
            done, of, _ = state.progress
            if self._bar.maximum() != max(1, of):
                self._bar.setRange(0, max(1, of))  # it paints at once
            self._bar.setValue(done)
