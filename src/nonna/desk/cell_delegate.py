"""Cells of a calm list, painted here: by way of the style sheet a page of them takes several times as long."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QObject, QPersistentModelIndex, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from nonna.desk.look.style import current, font

PADDING = 7
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


def paint_ground(painter: QPainter, option: QStyleOptionViewItem) -> bool:
    """Paint what is under a cell, with the line below it; says whether its row is chosen."""
    palette = current()
    chosen = bool(option.state & QStyle.StateFlag.State_Selected)
    if chosen:
        painter.fillRect(option.rect, QColor(palette.wash))
    painter.fillRect(option.rect.left(), option.rect.bottom(), option.rect.width(), 1, QColor(palette.faint))
    return chosen


class CellDelegate(QStyledItemDelegate):
    """Paints a cell's words in the model's font, colour and alignment."""

    def __init__(self, parent: QObject, pixels: int) -> None:
        super().__init__(parent)
        self._usual = font(pixels)

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        """Paint one cell."""
        chosen = paint_ground(painter, option)
        words = index.data(Qt.ItemDataRole.DisplayRole)
        if not words:
            return
        own = index.data(Qt.ItemDataRole.FontRole)
        colour = None if chosen else index.data(Qt.ItemDataRole.ForegroundRole)
        align = index.data(Qt.ItemDataRole.TextAlignmentRole)
        painter.setFont(own if isinstance(own, QFont) else self._usual)
        painter.setPen(colour if isinstance(colour, QColor) else QColor(current().ink))
        area = QRectF(option.rect).adjusted(PADDING, 0, -PADDING, 0)
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()))
        painter.drawText(area, align if align is not None else _LEFT, shown)
