"""What the hands do, with the caution where it belongs."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from nonna.bench.session.sheet.picture import StepState
from nonna.desk.forms.widgets import Card, card, label
from nonna.desk.look.style import current

USUAL_STEPS = 7  #: rows made beforehand, so that nothing stalls when a sheet is opened


class StepsPanel(Card):
    """The steps in order; the one at hand stands out."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout()
        self._column.setSpacing(4)
        self.caution, inside = card(tone="bad", margins=(12, 10, 12, 10), spacing=4)
        self._caution_title = label("", "strong", tone="bad", wrap=True)
        self._caution_words = label("", wrap=True)
        inside.addWidget(self._caution_title)
        inside.addWidget(self._caution_words)
        outer = self._outer = QVBoxLayout(self)
        outer.setContentsMargins(10, 12, 10, 10)
        outer.addWidget(self.caution)
        outer.addSpacing(8)
        outer.addLayout(self._column)
        outer.addStretch(1)
        self._shown: tuple[tuple[str, StepState], ...] = ()
        self._rows: list[_StepRow] = []

    def take_caution_back(self) -> None:
        """Let the caution stand over the steps again."""
        self._outer.insertWidget(0, self.caution)

    def show_steps(self, steps: tuple[tuple[str, StepState], ...], caution: tuple[str, str]) -> None:
        """Show the steps and the caution."""
        self._caution_title.setText(caution[0])
        self._caution_words.setText(caution[1])
        if steps == self._shown:
            return
        while len(self._rows) < max(len(steps), USUAL_STEPS):
            row = _StepRow()
            row.hide()
            self._rows.append(row)
            self._column.addWidget(row)
        self._shown = steps
        for i, row in enumerate(self._rows):
            if i < len(steps):
                row.show_step(*steps[i])
            row.setVisible(i < len(steps))


class _StepRow(Card):
    """One step; stays for the next sheet's, for dressing a new one takes too long."""

    def __init__(self) -> None:
        super().__init__(tone="")
        self._mark, self._words = _Mark(), label("", "quiet", wrap=True)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 6, 8, 6)
        row.setSpacing(10)
        row.addWidget(self._mark)
        row.addWidget(self._words, 1)

    def show_step(self, words: str, state: StepState) -> None:
        """Show what is to be done and whether it is done, at hand, or later."""
        self._words.setText(words)
        self._mark.show_state(state)
        self.show_tone("good" if state == "now" else "")
        self._words.show_role("strong" if state == "now" else "quiet" if state == "later" else "")
        self.setAccessibleName(f"{words}: {state}")


class _Mark(QWidget):
    """A tick, a dot or a ring."""

    def __init__(self) -> None:
        super().__init__()
        self._state: StepState = "later"
        self.setFixedSize(QSize(20, 22))

    def show_state(self, state: StepState) -> None:
        if state != self._state:
            self._state = state
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter)

    def _paint(self, p: QPainter) -> None:
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        pen = QPen(QColor(palette.muted if self._state == "later" else palette.accent), 2.5)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        if self._state == "done":
            p.drawPolyline([QPointF(3, 12), QPointF(8, 17), QPointF(17, 5)])
        else:
            p.setBrush(QColor(palette.accent) if self._state == "now" else Qt.BrushStyle.NoBrush)
            p.drawEllipse(QPointF(10, 11), 5.5, 5.5)
