"""A card drawn: what it says of a length stands at its dimension line, and is typed there."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QPointF, QRect, QRectF, QSize
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from nonna.desk.forms.figure_view import FigureView, Fit
from nonna.desk.look.style import current, font
from nonna.figures.figure import Figure, Label

BESIDE, ABOVE, BELOW = 126, 62, 56  #: px around the drawing, for the fields at its edges
FIELD_PX, CAPTION_PX = 112, 13
_WIDE = {"certificate": 150, "due": 138}
LEAST, HIGH = 680, 380  #: px that a drawing with its fields needs


class CardDrawing(FigureView):
    """Holds the fields whose places the figure names."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, captions=False)
        self._fields: Mapping[str, QWidget] = {}
        self._labels: dict[str, Label] = {}

    def show_card(self, figure: Figure, fields: Mapping[str, QWidget]) -> None:
        """Show a figure with the fields it has places for, given by name; those are the drawing's from now on."""
        self._labels = {s.key: s for s in figure.strokes if isinstance(s, Label) and s.key}
        self._fields = {name: fields[name] for name in self._labels if name in fields}
        for name, field in self._fields.items():
            if field.parentWidget() is not self:
                field.setParent(self)
            field.setFixedWidth(_WIDE.get(name, FIELD_PX))
            field.show()
        self.show_figure(figure)
        self._place()

    def let_go(self) -> None:
        """Show nothing, and leave the fields to whoever shows them now."""
        self._fields, self._labels = {}, {}
        self.show_figure(None)

    def area(self) -> QRectF:
        """Return the room that the fields at the edges leave."""
        return QRectF(self.rect()).adjusted(BESIDE, ABOVE, -BESIDE, -BELOW)

    def minimumSizeHint(self) -> QSize:
        """As high as no two fields touch; where it is too narrow it is not shown."""
        return QSize(0, HIGH)

    def sizeHint(self) -> QSize:
        """No more than that."""
        return QSize(LEAST, HIGH)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The fields go along with their lines."""
        super().resizeEvent(event)
        self._place()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the drawing, and over each field what it is."""
        super().paintEvent(event)
        with QPainter(self) as painter:
            painter.setFont(font(CAPTION_PX))
            for name, field in self._fields.items():
                painter.setPen(current().ink_colour(self._labels[name].ink))
                painter.drawText(QPointF(field.x() + 2, field.y() - 4), self._labels[name].words)
            note = self.figure.scale_note if self.figure is not None else ""
            painter.setPen(current().ink_colour("muted"))
            wide = QFontMetrics(font(CAPTION_PX)).horizontalAdvance(note)
            painter.drawText(QPointF(self.width() - wide - 4, self.height() - 6), note)

    def _place(self) -> None:
        if self.figure is None or self.area().isEmpty():
            return
        fit, taken = Fit.of(self.figure, self.area()), list[QRect]()
        for name, field in self._fields.items():
            label, high = self._labels[name], field.sizeHint().height()
            at, wide = fit.at(label.at) + QPointF(label.dx, label.dy), field.width()
            shift = {"left": 0.0, "centre": wide / 2.0, "right": float(wide)}[label.anchor]
            place = QRect(round(at.x() - shift), round(at.y() - high / 2.0), wide, high)
            place.moveLeft(min(max(0, place.left()), max(0, self.width() - wide)))
            place.moveTop(min(max(CAPTION_PX + 4, place.top()), max(0, self.height() - high)))
            for other in taken:  # two numbers of nearly one place stand one below the other
                if place.adjusted(0, -CAPTION_PX - 4, 0, 0).intersects(other):
                    below = other.bottom() + CAPTION_PX + 6
                    fits = below + high <= self.height()
                    place.moveTop(below if fits else other.top() - high - CAPTION_PX - 6)
            field.setGeometry(place)
            taken.append(place)
