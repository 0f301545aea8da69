"""What concerns the whole shop, said over the page."""

from __future__ import annotations

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from nonna.desk.forms.widgets import Card, label, scrolled

MOST_LINES = 3  # a page keeps its place whatever is said: longer words scroll
BESIDE_PX, ABOVE_PX = 20, 10


class Banner(Card):
    """As high as its words, up to three lines; hidden when there is nothing to say."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, "due")
        self.words = label("", wrap=True)
        self.area = scrolled(self.words)
        column = QVBoxLayout(self)
        column.setContentsMargins(BESIDE_PX, ABOVE_PX, BESIDE_PX, ABOVE_PX)
        column.addWidget(self.area)
        self.say("", "plain")

    def say(self, words: str, tone: str) -> None:
        """Say something; "" hides the banner."""
        self.words.setText(words)
        self._fit()
        self.setVisible(bool(words))
        self.show_tone(tone)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Words wrap anew."""
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        wide = max(1, self.width() - 2 * BESIDE_PX)
        needed = max(0, self.words.heightForWidth(wide))  # -1 without words
        self.area.setFixedHeight(min(needed, MOST_LINES * self.words.fontMetrics().lineSpacing()))
