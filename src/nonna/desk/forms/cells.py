"""Cells of a calm list: what stands in them, asked for once, and how they are painted.

By way of the style sheet a page of them takes several times as long; each is drawn once and kept as a picture.
"""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import (
    QAbstractTableModel,
    QModelIndex,
    QObject,
    QPersistentModelIndex,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
)
from PySide6.QtGui import QColor, QPainter, QPixmap
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current, font

Index = QModelIndex | QPersistentModelIndex
CELL = Qt.ItemDataRole.UserRole + 7
PADDING = 7
MOST_KEPT = 800  #: pictures of cells
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class Cell:
    """What a cell shows; inks are names of the palette."""

    words: str
    ink: str = "ink"
    bold: bool = False
    right: bool = False
    note: str = ""  #: a second, smaller line
    note_ink: str = "muted"


class CellModel(QAbstractTableModel):
    """A table whose columns have names; a subclass says what a cell is."""

    HEADERS: tuple[str, ...] = ()
    RIGHT: tuple[int, ...] = ()  #: columns of numbers

    def cell(self, row: int, column: int) -> Cell:
        """Return what a cell shows."""
        raise NotImplementedError

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many columns."""
        return len(self.HEADERS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Column names, over their numbers."""
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.HEADERS[section]
        return _RIGHT if role == Qt.ItemDataRole.TextAlignmentRole and section in self.RIGHT else None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """The cell as a whole for the one who paints it, its words for everybody else."""
        if role == CELL:
            return self.cell(index.row(), index.column())
        if role == Qt.ItemDataRole.DisplayRole:
            return self.cell(index.row(), index.column()).words
        return None


def paint_ground(painter: QPainter, option: QStyleOptionViewItem) -> bool:
    """Paint what is under a cell, with the line below it; says whether its row is chosen."""
    chosen = _chosen(option)
    _ground(painter, option.rect, chosen, current())
    return chosen


class CellDelegate(QStyledItemDelegate):
    """Paints cells in one size; with a second line where a cell has a note."""

    def __init__(self, parent: QObject, pixels: int, padding: int = PADDING) -> None:
        super().__init__(parent)
        self._pixels, self._padding = pixels, padding
        self._drawn: dict[tuple[object, ...], QPixmap] = {}

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint one cell."""
        cell: Cell = index.data(CELL)
        rect = option.rect
        chosen, ratio, palette = _chosen(option), painter.device().devicePixelRatio(), current()
        wanted = (cell, rect.width(), rect.height(), chosen, palette.name, ratio)
        drawn = self._drawn.get(wanted)
        if drawn is None:
            if len(self._drawn) >= MOST_KEPT:
                self._drawn.clear()
            drawn = self._drawn[wanted] = self._draw(cell, rect.size(), chosen, ratio, palette)
        painter.drawPixmap(rect.topLeft(), drawn)

    def _draw(self, cell: Cell, room: QSize, chosen: bool, ratio: float, palette: Palette) -> QPixmap:
        made = QPixmap(room * ratio)
        made.setDevicePixelRatio(ratio)
        made.fill(QColor(palette.card))
        with QPainter(made) as painter:
            _ground(painter, QRect(0, 0, room.width(), room.height()), chosen, palette)
            area = QRectF(self._padding, 0, room.width() - 2 * self._padding, room.height())
            ink = "ink" if chosen and not cell.note else cell.ink
            if not cell.note:
                _pen(painter, self._pixels, cell.bold, getattr(palette, ink))
                painter.drawText(area, _RIGHT if cell.right else _LEFT, _fitted(painter, cell.words, area))
            else:
                for words, y, pixels, colour in (
                    (cell.words, 22, self._pixels, ink),
                    (cell.note, 41, self._pixels - 3, cell.note_ink),
                ):
                    _pen(painter, pixels, False, getattr(palette, colour))
                    painter.drawText(QPointF(area.left(), y), _fitted(painter, words, area))
        return made


def _pen(painter: QPainter, pixels: int, bold: bool, colour: str) -> None:
    painter.setFont(font(pixels, bold=bold))
    painter.setPen(QColor(colour))


def _fitted(painter: QPainter, words: str, area: QRectF) -> str:
    return painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()))


def _chosen(option: QStyleOptionViewItem) -> bool:
    return bool(option.state & QStyle.StateFlag.State_Selected)


def _ground(painter: QPainter, rect: QRect, chosen: bool, palette: Palette) -> None:
    if chosen:
        painter.fillRect(rect, QColor(palette.wash))
    painter.fillRect(rect.left(), rect.bottom(), rect.width(), 1, QColor(palette.faint))
