"""The rehearsal as a strip: how high the tip stands above the pad over time, with contacts; to be scrubbed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from nonna.desk.look.style import current, font

if TYPE_CHECKING:
    from nonna.standin.rehearsal import Rehearsal

HIGH = 260.0  #: mm above the pad at the top of the strip; beyond it is cut, for the ends say nothing
LABEL = 18


class RehearsalStrip(QWidget):
    """Paints the path over time; arrows or the mouse move along it."""

    moved = Signal(int)  #: position in the path

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._found: Rehearsal | None = None
        self._plane = 0.0
        self.at = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(self.tr("Rehearsal over time: arrows move along it"))

    def sizeHint(self) -> QSize:
        """A low, wide strip."""
        return QSize(600, 92)

    def show_rehearsal(self, found: Rehearsal | None, plane: float) -> None:
        """Show another rehearsal, from its beginning."""
        if found is not self._found:
            self._found, self._plane, self.at = found, plane, 0
            self.update()

    def go(self, at: int) -> None:
        """Stand somewhere on the path."""
        last = len(self._found.path) - 1 if self._found else 0
        at = max(0, min(last, at))
        if at != self.at:
            self.at = at
            self.update()
            self.moved.emit(at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows step along the path, Page keys by tool, Home and End to its ends."""
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Home: -1_000_000, Qt.Key.Key_End: 1_000_000}
        key = Qt.Key(event.key())
        if key in steps:
            self.go(self.at + steps[key])
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.go(self._other_tool(1 if key == Qt.Key.Key_PageDown else -1))
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Go to the time pressed."""
        self._go_to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Follow the mouse."""
        self._go_to(event.position().x())

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint pad, path, contacts, tools and the cursor."""
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter)

    def _paint(self, p: QPainter) -> None:
        found = self._found
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        base = self.height() - 10.0
        p.setPen(QPen(QColor(palette.faint), 2))
        p.drawLine(QPointF(0, base), QPointF(self.width(), base))
        if found is None or len(found.path) < 2:
            p.setPen(QColor(palette.muted))
            p.setFont(font(14))
            p.drawText(
                QRectF(self.rect()),
                Qt.AlignmentFlag.AlignCenter,
                self.tr("Mark tools: their program is rehearsed here."),
            )
            return
        points = [self._place(i) for i in range(len(found.path))]
        p.setPen(QPen(QColor(palette.accent), 2))
        p.drawPolyline(QPolygonF(points))
        p.setFont(font(12, bold=True))
        last = 0
        right = -100.0
        for i, point in enumerate(found.path):
            if point.tool != last and point.tool:
                last = point.tool
                if points[i].x() > right:
                    p.setPen(QColor(palette.muted))
                    p.drawText(QPointF(points[i].x() - 2, 12), f"T{point.tool}")
                    right = points[i].x() + 32
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(palette.bad))
        size = 4.0 if len(found.contacts) < 60 else 2.5
        for i, point in enumerate(found.path):
            if point.way == "probe":
                p.drawEllipse(points[i], size, size)
        if self.at or self.hasFocus():
            here = points[self.at]
            p.setPen(QPen(QColor(palette.ink), 2))
            p.drawLine(QPointF(here.x(), 2), QPointF(here.x(), self.height() - 2))
            p.setBrush(QColor(palette.ink))
            p.drawRect(QRectF(here.x() - 5, 0, 10, 10))

    def _place(self, i: int) -> QPointF:
        found = self._found
        if found is None:
            return QPointF()
        point, whole = found.path[i], max(found.path[-1].at_s, 1e-9)
        above = max(-8.0, min(HIGH, point.z - point.long - self._plane))
        room = self.height() - 10.0 - LABEL
        return QPointF(6 + (self.width() - 12) * point.at_s / whole, self.height() - 10.0 - room * above / HIGH)

    def _go_to(self, x: float) -> None:
        if self._found is None or not self._found.path:
            return
        wanted = (x - 6) / max(1.0, self.width() - 12.0) * self._found.path[-1].at_s
        times = [point.at_s for point in self._found.path]
        self.go(min(range(len(times)), key=lambda i: abs(times[i] - wanted)))

    def _other_tool(self, way: int) -> int:
        path = self._found.path if self._found else ()
        at, tool = self.at, path[self.at].tool if path else 0
        while 0 <= at + way < len(path):
            at += way
            if path[at].tool != tool:
                return at
        return at
