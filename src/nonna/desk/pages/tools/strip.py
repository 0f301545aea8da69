"""The rehearsal as a strip: how high the tip stands above the pad over time, tool by tool; to be stepped, scrubbed and
played.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from nonna.desk.look.style import current, font

if TYPE_CHECKING:
    from nonna.standin.course import Course
    from nonna.standin.path import PathPoint

HIGH = 260.0  #: mm above the pad at the top of the strip; beyond it is cut, for the ends say nothing
LABEL = 22
TICK_MS = 40
SPEEDS = (1, 4, 16)  #: machine seconds a second while it plays
DOTS_MOST = 60  #: touches beyond this are drawn smaller


class RehearsalStrip(QWidget):
    """Paints the path over time; arrows or the mouse move along it, Space plays it."""

    moved = Signal(int)  #: position in the path
    playing_changed = Signal(bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.course: Course | None = None
        self._plane = 0.0
        self.at = 0  #: place of the path that was reached
        self.now_s = 0.0
        self.speed = SPEEDS[1]
        self._drawn: tuple[object, QPixmap] | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._on_tick)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(self.tr("Rehearsal over time: arrows step along it, Space plays it"))

    def sizeHint(self) -> QSize:
        """A low, wide strip."""
        return QSize(600, 92)

    @property
    def playing(self) -> bool:
        """Whether it plays."""
        return self._timer.isActive()

    @property
    def point(self) -> PathPoint | None:
        """Where the spindle is, between two places of the path while it plays; None where there is no path."""
        return self.course.point(self.at, self.now_s) if self.course is not None else None

    def show_course(self, course: Course | None, plane: float) -> None:
        """Show another rehearsal, from its beginning."""
        if course is not self.course:
            self.course, self._plane, self.at, self.now_s = course, plane, 0, 0.0
            self.stop()
            self.update()

    def go(self, at: int) -> None:
        """Stand at a place of the path."""
        last = len(self.course.path) - 1 if self.course else 0
        at = max(0, min(last, at))
        if self.course is not None and (at, float(self.course.times[at])) != (self.at, self.now_s):
            self._stand(at, float(self.course.times[at]))

    def go_to_time(self, seconds: float) -> None:
        """Stand where the spindle is at a time."""
        if self.course is not None:
            seconds = max(0.0, min(seconds, float(self.course.times[-1])))
            self._stand(self.course.index_at(seconds), seconds)

    def play(self) -> None:
        """Play on from here, from the beginning at the end; stops where it plays already."""
        if self.course is None or self.playing:
            self.stop()
            return
        if self.now_s >= self.course.times[-1]:
            self.go(0)
        self._timer.start()
        self.playing_changed.emit(True)

    def stop(self) -> None:
        """Stand still."""
        if self.playing:
            self._timer.stop()
            self.playing_changed.emit(False)

    def next_speed(self) -> int:
        """Play at the next speed; returns it."""
        self.speed = SPEEDS[(SPEEDS.index(self.speed) + 1) % len(SPEEDS)]
        return self.speed

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows step along the path, Page keys by tool, Home and End to its ends, Space plays."""
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Home: -10_000_000, Qt.Key.Key_End: 10_000_000}
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Space:
            self.play()
        elif key in steps:
            self.stop()
            self.go(self.at + steps[key])
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.stop()
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
        """Paint pad, path, touches, tools and the cursor; what does not change is drawn once."""
        wanted = (self.course, self.size(), self.devicePixelRatioF(), current().name)
        if self._drawn is None or self._drawn[0] != wanted:
            self._drawn = (wanted, self._drawing())
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            painter.drawPixmap(0, 0, self._drawn[1])
            self._paint_cursor(painter)

    def _drawing(self) -> QPixmap:
        made = QPixmap(self.size() * self.devicePixelRatioF())
        made.setDevicePixelRatio(self.devicePixelRatioF())
        made.fill(Qt.GlobalColor.transparent)
        with QPainter(made) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(QColor(current().faint), 2))
            base = self.height() - 10.0
            painter.drawLine(QPointF(0, base), QPointF(self.width(), base))
            if self.course is None:
                painter.setPen(QColor(current().muted))
                painter.setFont(font(14))
                words = self.tr("Mark tools: their program is rehearsed here.")
                painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, words)
            else:
                self._paint_tools(painter, self.course)
                self._paint_path(painter, self.course)
        return made

    def _paint_tools(self, p: QPainter, course: Course) -> None:
        """Paint each tool's stretch as a field of its own with its seconds."""
        palette = current()
        for i, stretch in enumerate(course.stretches):
            left, right = (self._x(float(edge)) for edge in course.edges[i : i + 2])
            if i % 2:
                p.fillRect(QRectF(left, 0, right - left, self.height() - 11.0), QColor(palette.rail))
            name = f"T{stretch.tool}" if stretch.tool else ""
            p.setFont(font(13, bold=True))
            wide = p.fontMetrics().horizontalAdvance(name)
            if not name or wide > right - left - 6:
                continue
            p.setPen(QColor(palette.ink))
            p.drawText(QPointF(left + 5, 15), name)
            words = f"{stretch.seconds:.0f} s" if stretch.seconds < 600 else f"{stretch.seconds / 60:.0f} min"
            p.setFont(font(13))
            if wide + p.fontMetrics().horizontalAdvance(words) + 16 < right - left:
                p.setPen(QColor(palette.muted))
                p.drawText(QPointF(left + 11 + wide, 15), words)

    def _paint_path(self, p: QPainter, course: Course) -> None:
        palette = current()
        shown = [(self._place(place, height), probe) for place, height, probe in course.outline(self.width())]
        p.setPen(QPen(QColor(palette.accent), 2))
        p.drawPolyline(QPolygonF([at for at, _ in shown]))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(palette.bad))
        touched = [at for at, probe in shown if probe]
        size = 4.0 if len(touched) < DOTS_MOST else 2.5
        for at in touched:
            p.drawEllipse(at, size, size)

    def _paint_cursor(self, p: QPainter) -> None:
        if self.course is None or not (self.now_s or self.hasFocus()):
            return
        x = self._x(self.course.place(self.now_s))
        p.setPen(QPen(QColor(current().ink), 2))
        p.drawLine(QPointF(x, 2), QPointF(x, self.height() - 2))
        p.setBrush(QColor(current().ink))
        p.drawRect(QRectF(x - 5, self.height() - 12, 10, 10))

    def _x(self, place: float) -> float:
        """Return the pixel of a place on the bar."""
        return 6 + (self.width() - 12) * place

    def _place(self, place: float, height: float) -> QPointF:
        """Return where a place on the bar and a height of the tip are drawn."""
        above = max(-8.0, min(HIGH, height - self._plane))
        return QPointF(self._x(place), self.height() - 10.0 - (self.height() - 10.0 - LABEL) * above / HIGH)

    def _stand(self, at: int, seconds: float) -> None:
        self.at, self.now_s = at, seconds
        self.update()
        self.moved.emit(at)

    def _go_to(self, x: float) -> None:
        if self.course is not None:
            self.stop()
            self.go_to_time(self.course.second((x - 6) / max(1.0, self.width() - 12.0)))

    def _on_tick(self) -> None:
        self.go_to_time(self.now_s + self.speed * TICK_MS / 1000.0)
        if self.course is None or self.now_s >= self.course.times[-1]:
            self.stop()

    def _other_tool(self, way: int) -> int:
        """Return where the next tool comes in, or this one or the one before it did."""
        if self.course is None:
            return self.at
        starts = [stretch.first for stretch in self.course.stretches]
        if way > 0:
            return next((i for i in starts if i > self.at), len(self.course.path) - 1)
        return next((i for i in reversed(starts) if i < self.at), 0)
