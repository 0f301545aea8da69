"""A live instrument: what its lines mean, as readings on the Qt thread."""

from __future__ import annotations

import threading

from PySide6.QtCore import QObject, Signal

from nonna.desk.threads.handover import Post
from nonna.shop.cards.connection import Connection
from nonna.shop.texts.line_pattern import LinePattern
from nonna.wiring import instrument_port


class LiveReader(QObject):
    """Reads an instrument in a thread of its own; the newest reading arrives on the thread that made it."""

    arrived = Signal(object)  #: a LineReading
    lost = Signal(str)  #: why it stopped, in words
    unread = Signal(str)  #: it sends what nobody understands, in words

    def __init__(self, line: Connection, parent: QObject | None = None, pattern: LinePattern | None = None) -> None:
        super().__init__(parent)
        self._post = Post(self._on_letter, self)
        self.port = instrument_port(line, pattern, self._post.box)
        self._thread = threading.Thread(target=self.port.run, daemon=True)

    def start(self) -> None:
        """Begin to read; once whoever listens is connected, or the first word would be lost."""
        self._post.open()
        self._thread.start()

    def close(self) -> None:
        """Stop reading. The thread ends by itself: an instrument that does not answer never holds the window up."""
        self.port.stop.set()
        self._post.close()

    def _on_letter(self, letter: tuple[str, object]) -> None:
        what, value = letter
        if not self.port.stop.is_set():
            {"arrived": self.arrived, "lost": self.lost, "unread": self.unread}[what].emit(value)
