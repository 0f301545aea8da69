"""A live indicator: lines of text from a serial port or a socket, as readings on the Qt thread."""

from __future__ import annotations

import re
import threading
from typing import Any

from PySide6.QtCore import QObject, Signal

_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?")
_INCH = re.compile(r"in\b|inch|\"", re.IGNORECASE)
LONGEST_LINE = 200


def parse_line(line: str) -> float | None:
    """Return the millimetres a line of an instrument means, or None for a line without a number."""
    found = _NUMBER.search(line)
    if found is None:
        return None
    value = float(found.group().replace(",", "."))
    return value * 25.4 if _INCH.search(line) else value


class LiveReader(QObject):
    """Reads an instrument in a thread of its own; the newest reading arrives on the thread that made it."""

    arrived = Signal(float)  #: mm
    lost = Signal(str)  #: why it stopped, in words

    def __init__(self, url: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._url = url
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)

    def start(self) -> None:
        """Begin to read; once whoever listens is connected, or the first word would be lost."""
        self._thread.start()

    def close(self) -> None:
        """Stop reading."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(2.0)

    def _run(self) -> None:
        import serial

        try:
            with serial.serial_for_url(self._url, timeout=0.2) as port:
                while not self._stop.is_set():
                    raw: bytes = port.read_until(b"\n", LONGEST_LINE)
                    value = parse_line(raw.decode("ascii", "replace")) if raw.endswith(b"\n") else None
                    if value is not None:
                        self._tell(self.arrived, value)
        except (OSError, ValueError) as error:  # pyserial's own errors are OSErrors
            if not self._stop.is_set():
                self._tell(self.lost, f"The indicator at {self._url} does not answer: {error}.")

    @staticmethod
    def _tell(signal: Any, *values: object) -> None:
        try:
            signal.emit(*values)
        except RuntimeError:
            return  # the sheet closed while a line was under way
