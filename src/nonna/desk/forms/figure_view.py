"""Paints a figure, fitted into the room there is."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current, font
from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Point, Polygon, Span

PADDING = 14
CAPTION = 24


class FigureView(QWidget):
    """Shows one figure with its title and what is to be said about its scale."""

    def __init__(self, parent: QWidget | None = None, *, captions: bool = True, least: int = 0) -> None:
        """Parameters: least, pixels of height below which nothing is drawn."""
        super().__init__(parent)
        self._least = least
        self.figure: Figure | None = None
        self._captions = captions
        self._drawn: tuple[object, QPixmap] | None = None  #: what it was drawn for, and the drawing
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(self.tr("Drawing"))

    def show_figure(self, figure: Figure | None) -> None:
        """Show a figure; None clears."""
        if figure != self.figure:
            self.figure = figure
            self.setAccessibleName(figure.title if figure else self.tr("Drawing"))
            self.setAccessibleDescription(figure.scale_note if figure else "")
            self.update()

    def area(self) -> QRectF:
        """Return the room for the drawing, with its captions."""
        return QRectF(self.rect())

    def sizeHint(self) -> QSize:
        """The least that can be read; it takes whatever room there is, and never makes a page scroll."""
        return QSize(420, max(self.minimumHeight(), 150))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint strokes in the current theme; a drawing that did not change is not drawn again."""
        if self.figure is None or self.size().isEmpty() or self.height() < self._least:
            return
        wanted = (self.figure, self.size(), self.devicePixelRatioF(), current().name)
        if self._drawn is None or self._drawn[0] != wanted:
            self._drawn = (wanted, self._drawing(self.figure))
        with QPainter(self) as painter:
            painter.drawPixmap(0, 0, self._drawn[1])

    def _drawing(self, figure: Figure) -> QPixmap:
        made = QPixmap(self.size() * self.devicePixelRatioF())
        made.setDevicePixelRatio(self.devicePixelRatioF())
        made.fill(Qt.GlobalColor.transparent)
        with QPainter(made) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter, figure)
        return made

    def _paint(self, painter: QPainter, figure: Figure) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        palette = current()
        area = self.area()
        if self._captions:
            area.adjust(PADDING, PADDING, -PADDING, -PADDING)
            _words(painter, area.topLeft() + QPointF(0, 14), figure.title, palette.ink_colour("muted"), 14)
            painter.setPen(palette.ink_colour("muted"))
            painter.setFont(font(13))
            painter.drawText(area, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft, figure.scale_note)
            area.adjust(0, CAPTION, 0, -CAPTION)
        FigurePainter(painter, palette).paint(figure, area)


class Fit(NamedTuple):
    """Where a figure's places fall on the screen."""

    scale: float
    dx: float
    dy: float

    @classmethod
    def of(cls, figure: Figure, area: QRectF) -> Fit:
        """Fit a figure's window into an area, keeping its proportions. The window has a size."""
        x0, y0, x1, y1 = figure.window
        scale = min(area.width() / (x1 - x0), area.height() / (y1 - y0))
        return cls(scale, area.center().x() - scale * (x0 + x1) / 2, area.center().y() + scale * (y0 + y1) / 2)

    def at(self, point: Point) -> QPointF:
        """Return where a place falls."""
        return QPointF(self.dx + self.scale * point[0], self.dy - self.scale * point[1])


class FigurePainter:
    """Maps a figure's window onto a rectangle and paints its strokes."""

    def __init__(self, painter: QPainter, palette: Palette) -> None:
        self._painter, self._palette = painter, palette
        self._fit = Fit(1.0, 0.0, 0.0)

    def paint(self, figure: Figure, area: QRectF) -> None:
        """Paint the figure into the area, keeping its proportions."""
        x0, y0, x1, y1 = figure.window
        if x1 <= x0 or y1 <= y0:
            return  # nothing of it has room
        self._fit = Fit.of(figure, area)
        if figure.cut:
            self._painter.setClipRect(area)
        for stroke in figure.strokes:
            if isinstance(stroke, Line):
                self._painter.setPen(self._pen(stroke.ink, stroke.width, stroke.dashed))
                self._painter.drawLine(self._at(stroke.start), self._at(stroke.end))
            elif isinstance(stroke, Polygon):
                self._fill(stroke.fill, stroke.ink, stroke.width)
                self._painter.drawPolygon(QPolygonF([self._at(p) for p in stroke.points]))
            elif isinstance(stroke, Circle):
                self._fill(stroke.fill, stroke.ink, stroke.width)
                radius = stroke.radius if stroke.dot else stroke.radius * self._fit.scale
                self._painter.drawEllipse(self._at(stroke.centre), radius, radius)
            elif isinstance(stroke, Label) and not stroke.key:
                self._label(stroke)
            elif isinstance(stroke, Span):
                self._span(stroke)

    def _at(self, point: Point) -> QPointF:
        return self._fit.at(point)

    def _pen(self, ink: Ink, width: float, dashed: bool = False) -> QPen:
        pen = QPen(self._palette.ink_colour(ink), width)
        if dashed:
            pen.setDashPattern([5, 4])
        return pen

    def _fill(self, fill: Ink | None, ink: Ink | None, width: float) -> None:
        self._painter.setBrush(self._palette.ink_colour(fill) if fill else Qt.BrushStyle.NoBrush)
        self._painter.setPen(self._pen(ink, width) if ink else Qt.PenStyle.NoPen)

    def _label(self, label: Label) -> None:
        at = self._at(label.at) + QPointF(label.dx, label.dy)
        colour = self._palette.ink_colour(label.ink)
        _words(self._painter, at, label.words, colour, label.size, label.bold, label.anchor)

    def _span(self, span: Span) -> None:
        a, b = self._at(span.start), self._at(span.end)
        self._painter.setPen(self._pen(span.ink, 1.5))
        self._painter.drawLine(a, b)
        tick = QPointF(5, 0) if abs(a.x() - b.x()) < abs(a.y() - b.y()) else QPointF(0, 5)
        for end in (a, b):
            self._painter.drawLine(end - tick, end + tick)
        _words(
            self._painter,
            (a + b) / 2 + QPointF(9, 5),
            span.words,
            self._palette.ink_colour(span.ink),
            15,
            True,
            span.anchor,
        )


def _words(
    painter: QPainter, at: QPointF, words: str, colour: QColor, pixels: int, bold: bool = False, anchor: str = "left"
) -> None:
    painter.setFont(font(pixels, bold=bold))
    painter.setPen(colour)
    width = painter.fontMetrics().horizontalAdvance(words)
    shift = {"left": 0.0, "centre": width / 2, "right": float(width)}[anchor]
    painter.drawText(at - QPointF(shift, 0), words)
