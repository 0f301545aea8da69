"""The shape of a link: closed, notched, parted, dotted. Shape first, colour second."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from nonna.desk.look.palette import Palette
from nonna.shop.links.judge import State

WIDTH, HEIGHT, STROKE = 54.0, 22.0, 4.5


def paint_link(painter: QPainter, centre: QPointF, state: State, palette: Palette, scale: float = 1.0) -> None:
    """Paint one link: closed = holds, notched = due, parted = broken, dotted = never."""
    w, h = WIDTH * scale, HEIGHT * scale
    rect = QRectF(centre.x() - w / 2, centre.y() - h / 2, w, h)
    pen = QPen(palette.state_colour(state), STROKE * scale)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if state is State.NEVER:
        pen.setDashPattern([0.1, 1.9])
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(_path(rect, state, scale))


def _path(rect: QRectF, state: State, scale: float) -> QPainterPath:
    path = QPainterPath()
    r = rect.height() / 2
    if state in (State.HOLDS, State.NEVER):
        path.addRoundedRect(rect, r, r)
        return path
    middle, gap = rect.center().x(), 8.0 * scale
    if state is State.BROKEN:  # two halves pulled apart, one of them tipped
        for side in (-1, 1):
            edge = rect.left() - 2 * scale if side < 0 else rect.right() + 2 * scale
            tip = 2.0 * scale * side
            path.moveTo(QPointF(middle + side * gap, rect.top() + tip))
            path.lineTo(QPointF(edge - side * r, rect.top() + tip))
            path.arcTo(QRectF(edge - (2 * r if side > 0 else 0), rect.top() + tip, 2 * r, 2 * r), 90, -180 * side)
            path.lineTo(QPointF(middle + side * gap, rect.bottom() + tip))
        return path
    path.moveTo(QPointF(middle - gap, rect.top()))  # closed, with a notch worn into its top
    path.lineTo(QPointF(middle, rect.top() + 9 * scale))
    path.lineTo(QPointF(middle + gap, rect.top()))
    path.lineTo(QPointF(rect.right() - r, rect.top()))
    path.arcTo(QRectF(rect.right() - 2 * r, rect.top(), 2 * r, 2 * r), 90, -180)
    path.lineTo(QPointF(rect.left() + r, rect.bottom()))
    path.arcTo(QRectF(rect.left(), rect.top(), 2 * r, 2 * r), 270, -180)
    path.closeSubpath()
    return path
