"""An instrument's lines from a serial port or a socket: whole ones, in a thread of its own, into a box."""

from __future__ import annotations

import re
import threading
from queue import SimpleQueue

from nonna.errors import NonnaError
from nonna.procedures.entry import LARGEST_MM
from nonna.procedures.instrument_line import parse_line
from nonna.shop.cards.connection import Connection
from nonna.shop.texts.line_pattern import LinePattern

LONGEST_LINE = 200
SILENCE_S, MOST_SILENCES = 0.2, 5  #: what no line of an instrument is interrupted by is a silence
MOST_WAITING = 1_000  #: lines read and not taken yet
UNREADABLE_LINES = 5  #: so many in a row are said, once
_PORTS = re.compile(r"(?:socket://[\w.:\[\]-]+:\d{1,5}|/dev/[\w./-]+|COM\d{1,3})\Z", re.IGNORECASE)
_PARITIES = {"none": "N", "even": "E", "odd": "O"}
_ENDS = {"lf": b"\n", "cr": b"\r"}


def checked_port(url: str) -> str:
    """Return where an instrument is, as given. Raises: NonnaError (neither a port nor a socket: nothing else is
    opened).
    """
    if not url:
        words = "No instrument is connected: say on its card where it is (Shelf, F10)."
        raise NonnaError("missing-field", words, "indicator")
    if not _PORTS.match(url):
        raise NonnaError(
            "wrong-format",
            "{value!r} is neither a port such as /dev/ttyUSB0 nor socket://name:number.",
            "indicator",
            value=url[:60],
        )
    return url


class Lines:
    """Puts whole lines together from what a port gives; half of one is never taken for a line.

    The first line after opening may have begun before it: it counts only where silence came first.
    """

    def __init__(self, end: bytes = b"\n") -> None:
        self._end = end
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
        if raw.endswith(self._end):
            self._begun = b""
            whole = None if begun is None else begun + raw
            return whole if whole is not None and len(whole) <= LONGEST_LINE else None
        self._begun = None if begun is None or len(begun + raw) >= LONGEST_LINE else begun + raw
        return None


class Port:
    """Reads lines from a port until it is stopped, and puts what they mean into a box."""

    def __init__(self, line: Connection, pattern: LinePattern | None, box: SimpleQueue[tuple[str, object]]) -> None:
        self._line, self._pattern, self._box = line, pattern, box
        self._mute = 0  #: lines in a row that told nothing
        self.stop = threading.Event()

    def run(self) -> None:
        """Read until stopped, or until the instrument is lost."""
        to, end = self._line, _ENDS[self._line.line_end]
        try:
            import serial

            with serial.serial_for_url(
                checked_port(to.url), timeout=SILENCE_S, baudrate=to.baud, parity=_PARITIES[to.parity],
                bytesize=to.data_bits, stopbits=to.stop_bits,
            ) as port:  # fmt: skip
                lines = Lines(end)
                while not self.stop.is_set():
                    while self._box.qsize() > MOST_WAITING and not self.stop.wait(0.01):
                        pass  # a flood: it waits in the port until what was read is taken
                    line = lines.add(port.read_until(end, LONGEST_LINE))
                    if line is not None:
                        self.take(line)
        except NonnaError as error:
            self._box.put(("lost", error.message))
        except Exception as error:  # noqa: BLE001 - a thread that dies without a word leaves a dial that looks alive
            self._box.put(("lost", f"The instrument at {to.url} does not answer: {error}."))

    def take(self, raw: bytes) -> None:
        """Read one whole line."""
        line = raw.decode("utf-8", "replace")
        if not line.strip():
            return  # an empty line says nothing, and hides nothing
        value = parse_line(line, self._pattern)
        if value is not None and abs(value) <= LARGEST_MM:
            self._mute = 0
            self._box.put(("arrived", value))
            return
        self._mute += 1
        if self._mute == UNREADABLE_LINES:
            shown = line.strip()[:40]
            words = f"The instrument sends {shown!r}: which number is it? Give its card a pattern (Shelf)."
            self._box.put(("unread", words))
