"""One link of the loop: title, shape, word, reason, value."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from nonna.desk.look.link_shape import WIDTH, paint_link
from nonna.desk.look.style import current, font
from nonna.shop.judge import LinkState
from nonna.shop.loop import LinkSort
from nonna.stations.telling import reason_words
from nonna.wording.lengths import Units, length, small

HEIGHT, LINE = 112, 40


class Station(QAbstractButton):
    """A link as a button."""

    def __init__(self, state: LinkState, units: Units, first: bool, last: bool, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state, self._first, self._last = state, first, last
        self._value = _value_words(state, units)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumHeight(HEIGHT)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{state.link.title}: {state.state.value}")
        self._reason = reason_words(state.reason)
        self.setAccessibleDescription(f"{self._reason}. {self._value}")
        self.setToolTip(self._reason)

    @property
    def link(self) -> str:
        """Key of the link."""
        return self._state.link.key

    def sizeHint(self) -> QSize:
        """A fifth of the drawing."""
        return QSize(150, HEIGHT)

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

    def _paint(self, p: QPainter) -> None:
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(5, 2, -5, -2)
        if self.hasFocus() or self.underMouse():
            p.setPen(QPen(QColor(palette.accent), 2 if self.hasFocus() else 1))
            p.setBrush(QColor(palette.card))
            p.drawRoundedRect(box, 8, 8)
        middle = QPointF(self.width() / 2, LINE)
        p.setPen(QPen(QColor(palette.faint), 3))
        if not self._first:
            p.drawLine(QPointF(0, LINE), middle - QPointF(WIDTH / 2 + 6, 0))
        if not self._last:
            p.drawLine(middle + QPointF(WIDTH / 2 + 6, 0), QPointF(self.width(), LINE))
        paint_link(p, middle, self._state.state, palette)
        colour = palette.state_colour(self._state.state)
        for words, y, pixels, bold, ink in (
            (self._state.link.title, 3, 17, True, QColor(palette.ink)),
            (self._state.state.value, 53, 15, True, colour),
            (self._reason, 72, 13, False, QColor(palette.muted)),
            (self._value, 90, 14, False, QColor(palette.ink)),
        ):
            p.setFont(font(pixels, bold=bold))
            p.setPen(ink)
            shown = p.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()) - 8)
            p.drawText(
                QRectF(box.left(), y, box.width(), 24), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, shown
            )


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
