"""The tool table as an item model and how its rows are painted."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from nonna.desk.figure_view import FigurePainter
from nonna.desk.look.style import current, font
from nonna.metrology.words import Units, length, small
from nonna.procedures.drawings.figure import Figure
from nonna.procedures.drawings.setter import tool_outline
from nonna.records.tool_table import ToolRow

Index = QModelIndex | QPersistentModelIndex
HEADERS = ("", "Tool", "", "", "Table", "Measured", "Change", "")
MARK, NUMBER, SHAPE, NAME, WAS, NOW, CHANGE, STATE = range(8)
BIG_CHANGE_MM = 0.05


class ToolModel(QAbstractTableModel):
    """Adapts tool rows; marks are the tools chosen to be measured."""

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[ToolRow, ...] = ()
        self._marked: set[str] = set()
        self._units = Units.MM

    @property
    def rows(self) -> tuple[ToolRow, ...]:
        """The rows shown."""
        return self._rows

    @property
    def marked(self) -> tuple[str, ...]:
        """Tools chosen, in table order."""
        return tuple(row.subject for row in self._rows if row.subject in self._marked)

    def show_rows(self, rows: tuple[ToolRow, ...], units: Units) -> None:
        """Take new rows; marks stay on tools that are still there."""
        self.beginResetModel()
        self._rows, self._units = rows, units
        self._marked &= {row.subject for row in rows}
        self.endResetModel()

    def mark(self, subjects: set[str]) -> None:
        """Choose tools."""
        self._marked = set(subjects)
        if self._rows:
            self.dataChanged.emit(self.index(0, 0), self.index(len(self._rows) - 1, 0))

    def toggle(self, row: int) -> None:
        """Choose a tool or leave it out."""
        self._marked ^= {self._rows[row].subject}
        self.dataChanged.emit(self.index(row, 0), self.index(row, 0))

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many tools."""
        return 0 if parent.isValid() else len(self._rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many columns."""
        return len(HEADERS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Column names."""
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return HEADERS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole and section in (WAS, NOW, CHANGE):
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Words, colours and alignment of a cell."""
        row, column = self._rows[index.row()], index.column()
        palette = current()
        if role == Qt.ItemDataRole.UserRole:
            return row
        if role == Qt.ItemDataRole.DisplayRole:
            return self._words(row, column)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"{row.subject} {row.name}: {row.state.value}"
        if role == Qt.ItemDataRole.TextAlignmentRole and column in (WAS, NOW, CHANGE):
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.FontRole:
            return font(17, bold=(column in (NUMBER, NOW) and row.accepted) or column == NUMBER)
        if role == Qt.ItemDataRole.ForegroundRole:
            if column in (NUMBER, MARK):
                return QColor(palette.accent)
            if column == STATE:
                return palette.state_colour(row.state)
            if (column in (NOW, CHANGE) and not row.accepted) or column == WAS:
                return QColor(palette.muted)
            if column == CHANGE and row.change is not None and abs(row.change) > BIG_CHANGE_MM:
                return QColor(palette.bad)
        return None

    def _words(self, row: ToolRow, column: int) -> str:
        u = self._units
        if column == MARK:
            return "●" if row.subject in self._marked else ""
        if column == WAS:
            return "–" if row.was is None else length(row.was, u, unit=False)
        if column == NOW:
            return "" if row.now is None else length(row.now, u, unit=False)
        if column == CHANGE:
            return "" if row.change is None else small(row.change, u, sign=True)
        return {NUMBER: row.subject, NAME: row.name, STATE: row.state.value}.get(column, "")


class ShapeDelegate(QStyledItemDelegate):
    """Paints a tool's outline, each to the height of the row."""

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint the outline over the row's ground."""
        super().paint(painter, option, index)
        row: ToolRow = index.data(Qt.ItemDataRole.UserRole)
        wide = min(row.diameter, 60.0)
        strokes = tuple(tool_outline(row.kind, wide, 100.0, (0.0, 0.0))[1:])
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(option.rect).adjusted(2, 8, -2, -8)
        FigurePainter(painter, current()).paint(Figure("", (-32, -2, 32, 58), strokes, ""), area)
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        """Room for the outline."""
        return QSize(46, 48)
