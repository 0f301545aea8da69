"""One link of the loop: title, shape, word, reason, value; and a row of them, which becomes a list where it has no
room.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractButton, QGridLayout, QSizePolicy, QWidget

from nonna.desk.forms.widgets import emptied
from nonna.desk.look.link_shape import WIDTH, paint_link
from nonna.desk.look.style import current, font
from nonna.shop.links.judge import LinkState
from nonna.shop.links.loop import LinkSort
from nonna.stations.telling import reason_words
from nonna.wording.lengths import Units, length, small

HEIGHT, LINE, WORDS_Y, MARGIN = 112, 40, 72, 18
LISTED, LISTED_PX, BESIDE_SHAPE = 68, 250, 76  #: of a link in a list: height, least width, where its words begin
TITLE, STATE, REASON, VALUE = (17, True), (15, True), (13, False), (14, False)  #: pixels and weight of each line
LINE_PX = 18


class Station(QAbstractButton):
    """A link as a button."""

    def __init__(self, state: LinkState, units: Units, first: bool, last: bool, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state, self._first, self._last = state, first, last
        self._value = _whole_numbers(_value_words(state, units))
        self._lines, self._listed = 1, False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{state.link.title}: {state.state.value}")
        self._reason = reason_words(state.reason)
        self.setAccessibleDescription(f"{self._reason}. {self._value}")
        self.setToolTip(self._reason)
        self._wide = [max(map(self._needed, _texts(self, lines))) + MARGIN for lines in (1, 2)]
        self.arrange(1, listed=False)

    @property
    def link(self) -> str:
        """Key of the link."""
        return self._state.link.key

    def least(self, lines: int) -> int:
        """How wide it has to be for all its words, reason and value on so many lines."""
        return self._wide[lines - 1]

    @property
    def least_listed(self) -> int:
        """How wide it has to be in a list."""
        texts = (f"{self._state.link.title}  {self._state.state.value}", self._reason, self._value)
        return max(map(self._needed, zip(texts, (TITLE, REASON, VALUE), strict=True))) + BESIDE_SHAPE + 6

    def arrange(self, lines: int, *, listed: bool) -> None:
        """Stand in a row, reason and value on so many lines; or in a list, the shape beside the words."""
        self._lines, self._listed = lines, listed
        self.setFixedHeight(LISTED if listed else HEIGHT + 2 * LINE_PX * (lines - 1))
        self.update()

    def fits(self) -> bool:
        """Whether all its words are painted."""
        if not self._listed:
            return self.least(self._lines) <= self.width()
        return self.least_listed <= self.width()

    def sizeHint(self) -> QSize:
        """A fifth of the drawing."""
        return QSize(150, self.minimumHeight())

    def minimumSizeHint(self) -> QSize:
        """The row decides."""
        return QSize(0, self.minimumHeight())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows and Enter belong to the loop; Space presses."""
        if event.key() == Qt.Key.Key_Space:
            super().keyPressEvent(event)
        else:
            event.ignore()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the link under its station."""
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter)

    @staticmethod
    def _needed(text: tuple[str, tuple[int, bool]]) -> int:
        words, (pixels, bold) = text
        return QFontMetrics(font(pixels, bold=bold)).horizontalAdvance(words)

    def _paint(self, p: QPainter) -> None:
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(5, 2, -5, -2)
        if self.hasFocus() or self.underMouse():
            p.setPen(QPen(QColor(palette.accent), 2 if self.hasFocus() else 1))
            p.setBrush(QColor(palette.card))
            p.drawRoundedRect(box, 8, 8)
        if self._listed:
            self._paint_listed(p)
            return
        middle = QPointF(self.width() / 2, LINE)
        p.setPen(QPen(QColor(palette.faint), 3))
        if not self._first:
            p.drawLine(QPointF(0, LINE), middle - QPointF(WIDTH / 2 + 6, 0))
        if not self._last:
            p.drawLine(middle + QPointF(WIDTH / 2 + 6, 0), QPointF(self.width(), LINE))
        paint_link(p, middle, self._state.state, palette)
        colour = palette.state_colour(self._state.state)
        high = LINE_PX * self._lines
        for words, y, (pixels, bold), ink in (
            (self._state.link.title, 3, TITLE, QColor(palette.ink)),
            (self._state.state.value, 53, STATE, colour),
            (self._reason, WORDS_Y, REASON, QColor(palette.muted)),
            (self._value, WORDS_Y + high, VALUE, QColor(palette.ink)),
        ):
            p.setFont(font(pixels, bold=bold))
            p.setPen(ink)
            flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop
            if self._lines > 1:
                flags |= Qt.TextFlag.TextWordWrap
            p.drawText(QRectF(box.left(), y, box.width(), high + 6), int(flags), words)

    def _paint_listed(self, p: QPainter) -> None:
        palette = current()
        paint_link(p, QPointF(BESIDE_SHAPE / 2, self.height() / 2), self._state.state, palette)
        title = self._state.link.title
        beside = BESIDE_SHAPE + self._needed((f"{title}  ", TITLE))
        for words, x, y, (pixels, bold), ink in (
            (title, BESIDE_SHAPE, 22, TITLE, QColor(palette.ink)),
            (self._state.state.value, beside, 22, STATE, palette.state_colour(self._state.state)),
            (self._reason, BESIDE_SHAPE, 41, REASON, QColor(palette.muted)),
            (self._value, BESIDE_SHAPE, 59, VALUE, QColor(palette.ink)),
        ):
            p.setFont(font(pixels, bold=bold))
            p.setPen(ink)
            p.drawText(QPointF(x, y), words)


class StationRow(QWidget):
    """The links of a branch: side by side under their drawing, or a list where their words would be cut."""

    listed = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self._stations: Sequence[Station] = ()
        self._arranged: tuple[int, int] = (0, 0)  #: columns, lines
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(0)

    def show_stations(self, stations: Sequence[Station]) -> None:
        """Take the links in their order."""
        emptied(self._grid)
        self._stations, self._arranged = stations, (0, 0)
        self._share_out()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share out the room."""
        super().resizeEvent(event)
        self._share_out()

    def _share_out(self) -> None:
        count = len(self._stations)
        if not count:
            return
        each = self.width() // count
        lines = next((n for n in (1, 2) if all(s.least(n) <= each for s in self._stations)), 0)
        listed = max(LISTED_PX, *(s.least_listed for s in self._stations))
        columns = count if lines else max(1, min(count, self.width() // listed))
        if (columns, lines) == self._arranged:
            return
        self._arranged = (columns, lines)
        for column in range(self._grid.columnCount()):
            self._grid.setColumnStretch(column, 0)
        for i, station in enumerate(self._stations):
            station.arrange(max(lines, 1), listed=not lines)
            self._grid.addWidget(station, i // columns, i % columns)
            self._grid.setColumnStretch(i % columns, 1)
        self.listed.emit(not lines)


def _texts(station: Station, lines: int) -> list[tuple[str, tuple[int, bool]]]:
    """Return what stands on single lines when reason and value take so many."""
    found = [(station._state.link.title, TITLE), (station._state.state.value, STATE)]
    for words, style in ((station._reason, REASON), (station._value, VALUE)):
        found += [(part, style) for part in (_halves(words) if lines > 1 else (words,))]
    return found


def _whole_numbers(words: str) -> str:
    """Keep a number and its unit on one line."""
    return re.sub(r"(?<=[\d±]) (?=\S)", "\u00a0", words)


def _halves(words: str) -> tuple[str, str]:
    """Return words on two lines, as even as they can be."""
    parts = words.split(" ")
    ways = [(" ".join(parts[:i]), " ".join(parts[i:])) for i in range(len(parts) + 1)]
    return min(ways, key=lambda way: max(map(len, way)))


def _value_words(state: LinkState, units: Units) -> str:
    entry = state.entry
    if entry is None or entry.kind != "measurement" or entry.value_mm is None or state.link.sort is LinkSort.EACH:
        return ""
    was = "" if state.state.value in ("holds", "due") else "was "
    if state.link.shows:
        return f"{was}{state.link.shows} {small(abs(entry.value_mm), units)}"
    if entry.expanded_mm is None:
        return f"{was}{length(entry.value_mm, units)}"
    return f"{was}± {small(entry.expanded_mm, units)}"
