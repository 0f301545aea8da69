"""A live indicator: lines of text from a serial port or a socket, as readings on the Qt thread."""

from __future__ import annotations

import re
import threading
from queue import SimpleQueue
from typing import Any

from PySide6.QtCore import QObject, Signal

from nonna.desk.post import Post
from nonna.errors import NonnaError
from nonna.procedures.entry import LARGEST_MM
from nonna.shop.line_pattern import LinePattern, number_of
from nonna.wording.lengths import MM_PER_INCH

LONGEST_LINE = 200
SILENCE_S, MOST_SILENCES = 0.2, 5  #: what no line of an instrument is interrupted by is a silence
MOST_WAITING = 1_000  #: lines read and not taken yet
UNREADABLE_LINES = 5  #: so many in a row are said, once
_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?")
_TO_MM = {
    "mm": 1.0,
    "um": 1e-3,
    "µm": 1e-3,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    '"': MM_PER_INCH,
    "thou": MM_PER_INCH / 1e3,
}
_UNIT = re.compile(r"(?<![a-z])(inch|in|\"|mm|um|µm|thou)(?![a-z])", re.IGNORECASE)
_PORTS = re.compile(r"(?:socket://[\w.:\[\]-]+:\d{1,5}|/dev/[\w./-]+|COM\d{1,3})\Z", re.IGNORECASE)


class LineReading(float):
    """Millimetres that a line means, with the axis and the tool it names, "" where it names none."""

    axis: str = ""
    tool: str = ""


def parse_line(line: str, pattern: LinePattern | None = None) -> LineReading | None:
    """Return the millimetres a line of an instrument means, or None for a line that does not tell.

    By its pattern where its card has one. Without: the only number of the line, or the only one that has a sign or a
    decimal point; a line in which two numbers could be meant is no reading.
    """
    if pattern is not None:
        found = pattern.match(line)
        if found is None:
            return None
        reading = LineReading(number_of(found["value"]) * _TO_MM[found.get("unit", "mm").lower()])
        reading.axis, reading.tool = found.get("axis", "").lower(), found.get("tool", "")
        return reading
    numbers = _NUMBER.findall(line)
    if len(numbers) > 1:
        numbers = [text for text in numbers if text[0] in "+-" or "." in text or "," in text]
    if len(numbers) != 1:
        return None
    unit = _UNIT.search(line.replace(numbers[0], " ", 1))
    return LineReading(number_of(numbers[0]) * (_TO_MM[unit.group().lower()] if unit else 1.0))


def checked_port(url: str) -> str:
    """Return where an instrument is, as given. Raises: NonnaError (neither a port nor a socket: nothing else is opened)."""
    if not _PORTS.match(url):
        raise NonnaError(
            "wrong-format",
            f"{url[:60]!r} is neither a port such as /dev/ttyUSB0 nor socket://name:number.",
            "indicator",
        )
    return url


class LiveReader(QObject):
    """Reads an instrument in a thread of its own; the newest reading arrives on the thread that made it."""

    arrived = Signal(object)  #: a LineReading
    lost = Signal(str)  #: why it stopped, in words
    unread = Signal(str)  #: it sends what nobody understands, in words

    def __init__(self, url: str, parent: QObject | None = None, pattern: LinePattern | None = None) -> None:
        super().__init__(parent)
        self._post = Post(self._on_letter, self)
        self.port = Port(url, pattern, self._post.box)
        self._thread = threading.Thread(target=self.port.run, daemon=True)

    def start(self) -> None:
        """Begin to read; once whoever listens is connected, or the first word would be lost."""
        self._post.open()
        self._thread.start()

    def close(self) -> None:
        """Stop reading. The thread ends by itself: an instrument that does not answer never holds the window up."""
        self.port.stop.set()
        self._post.close()

    def _on_letter(self, letter: tuple[str, Any]) -> None:
        what, value = letter
        if not self.port.stop.is_set():
            {"arrived": self.arrived, "lost": self.lost, "unread": self.unread}[what].emit(value)


class Lines:
    """Puts whole lines together from what a port gives; half of one is never taken for a line.

    The first line after opening may have begun before it: it counts only where silence came first.
    """

    def __init__(self) -> None:
        self._begun: bytes | None = None  #: what there is of the line under way; None until the next line begins
        self._silent = 0  #: times in a row that nothing came

    def add(self, raw: bytes) -> bytes | None:
        """Take what came until a line's end or a moment of silence; return a whole line, or None."""
        if not raw:
            self._silent += 1
            if self._begun is None or self._silent >= MOST_SILENCES:
                self._begun = b""  # what follows a silence begins a line; what was left in the air is none
            return None
        self._silent = 0
        begun = self._begun
        if raw.endswith(b"\n"):
            self._begun = b""
            whole = None if begun is None else begun + raw
            return whole if whole is not None and len(whole) <= LONGEST_LINE else None
        self._begun = None if begun is None or len(begun + raw) >= LONGEST_LINE else begun + raw
        return None


class Port:
    """Reads lines from a port until it is stopped, and puts what they mean into a box."""

    def __init__(self, url: str, pattern: LinePattern | None, box: SimpleQueue[tuple[str, Any]]) -> None:
        self._url, self._pattern, self._box = url, pattern, box
        self._mute = 0  #: lines in a row that told nothing
        self.stop = threading.Event()

    def run(self) -> None:
        """Read until stopped, or until the instrument is lost."""
        try:
            import serial

            with serial.serial_for_url(checked_port(self._url), timeout=SILENCE_S) as port:
                lines = Lines()
                while not self.stop.is_set():
                    while self._box.qsize() > MOST_WAITING and not self.stop.wait(0.01):
                        pass  # a flood: it waits in the port until what was read is taken
                    line = lines.add(port.read_until(b"\n", LONGEST_LINE))
                    if line is not None:
                        self.take(line)
        except NonnaError as error:
            self._box.put(("lost", error.message))
        except Exception as error:  # noqa: BLE001 - a thread that dies without a word leaves a dial that looks alive
            self._box.put(("lost", f"The indicator at {self._url} does not answer: {error}."))

    def take(self, raw: bytes) -> None:
        """Read one whole line."""
        line = raw.decode("utf-8", "replace")
        value = parse_line(line, self._pattern)
        if value is not None and abs(value) <= LARGEST_MM:
            self._mute = 0
            self._box.put(("arrived", value))
            return
        self._mute += 1
        if self._mute == UNREADABLE_LINES:
            shown = line.strip()[:40]
            words = f"The indicator sends {shown!r}: which number is it? Give its card a pattern (Shelf)."
            self._box.put(("unread", words))
