"""What concerns the whole shop, said over the page."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from nonna.desk.widgets import Card, label, scrolled

HIGHEST_PX = 92  # a page keeps its place whatever is said: longer words scroll


class Banner(Card):
    """A line or three of words; hidden when there is nothing to say."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, "due")
        self.setMaximumHeight(HIGHEST_PX)
        self._words = label("", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 10, 20, 10)
        column.addWidget(scrolled(self._words))
        self.say("", "plain")

    def say(self, words: str, tone: str) -> None:
        """Say something; "" hides the banner."""
        self._words.setText(words)
        self.setVisible(bool(words))
        self.show_tone(tone)
