"""The tray as an item model and how its rows are painted."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import (
    QAbstractTableModel,
    QModelIndex,
    QObject,
    QPersistentModelIndex,
    QPoint,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
)
from PySide6.QtGui import QColor, QPainter, QPixmap
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from nonna.bench.tool_table import ToolRow
from nonna.bench.tray import numbers_in
from nonna.desk.cell_delegate import paint_ground
from nonna.desk.figure_view import FigurePainter
from nonna.desk.look.style import current, font
from nonna.figures.figure import Figure
from nonna.figures.setter import tool_outline
from nonna.shop.subjects import Subject
from nonna.wording.lengths import Units, length, small

Index = QModelIndex | QPersistentModelIndex
HEADERS = ("", "Tool", "", "", "Table", "Measured", "Change")
MARK, NUMBER, SHAPE, NAME, WAS, NOW, CHANGE = range(7)
RIGHT = (WAS, NOW, CHANGE)
NOTE, NOTE_COLOUR = Qt.ItemDataRole.UserRole + 1, Qt.ItemDataRole.UserRole + 2
BIG_CHANGE_MM = 0.05
MOST_DRAWN = 200  #: outlines kept
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class Waiting:
    """A result that waits to be accepted, in what the row shows of it."""

    value_mm: float | None
    words: str
    bad: bool


class ToolModel(QAbstractTableModel):
    """Adapts tool rows; shows those that a filter leaves."""

    def __init__(self) -> None:
        super().__init__()
        self._all: tuple[ToolRow, ...] = ()
        self._shown: list[ToolRow] = []
        self._haystacks: list[str] = []
        self._marked: frozenset[int] = frozenset()
        self._waiting: Mapping[Subject, Waiting] = {}
        self._notes: Mapping[int, str] = {}
        self._filter = ""
        self._units = Units.MM

    @property
    def rows(self) -> tuple[ToolRow, ...]:
        """All rows, also those the filter hides."""
        return self._all

    @property
    def shown(self) -> tuple[ToolRow, ...]:
        """The rows that the filter leaves."""
        return tuple(self._shown)

    def row(self, index: int) -> ToolRow | None:
        """Return a row that is shown."""
        return self._shown[index] if 0 <= index < len(self._shown) else None

    def show_rows(self, rows: tuple[ToolRow, ...], units: Units) -> None:
        """Take new rows."""
        self.beginResetModel()
        self._all, self._units = rows, units
        self._haystacks = [
            f"T{r.number} {r.subject.words} {r.name} {r.kind} {r.diameter:g} {r.state.value}".lower() for r in rows
        ]
        self._shown = self._filtered()
        self.endResetModel()

    def show_marks(self, marked: Collection[int], waiting: Mapping[Subject, Waiting], notes: Mapping[int, str]) -> None:
        """Show marks, results that wait, and what stands under the names."""
        self._marked, self._waiting, self._notes = frozenset(marked), waiting, notes
        if self._shown:
            self.dataChanged.emit(self.index(0, 0), self.index(len(self._shown) - 1, len(HEADERS) - 1))

    def show_filter(self, text: str) -> None:
        """Show only rows that hold every word typed, or the tools of a range such as ``2-9, 14``."""
        if text != self._filter:
            self.beginResetModel()
            self._filter = text
            self._shown = self._filtered()
            self.endResetModel()

    def _filtered(self) -> list[ToolRow]:
        numbers = numbers_in(self._filter)
        if numbers is not None:
            return [r for r in self._all if r.number in numbers]
        words = self._filter.lower().split()
        return [r for r, hay in zip(self._all, self._haystacks, strict=True) if all(w in hay for w in words)]

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many tools are shown."""
        return 0 if parent.isValid() else len(self._shown)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many columns."""
        return len(HEADERS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Column names."""
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return HEADERS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole and section in RIGHT:
            return _RIGHT
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Words, colours and alignment of a cell."""
        row, column = self._shown[index.row()], index.column()
        if role == Qt.ItemDataRole.UserRole:
            return row
        if role == NOTE:
            return self._note(row)
        if role == NOTE_COLOUR:
            waiting = self._waiting.get(row.subject)
            bad, good = QColor(current().bad), QColor(current().accent)
            return current().state_colour(row.state) if waiting is None else bad if waiting.bad else good
        if role == Qt.ItemDataRole.DisplayRole:
            return self._words(row, column)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return f"T{row.number} {row.name}: {self._note(row)}"
        if role == Qt.ItemDataRole.TextAlignmentRole and column in RIGHT:
            return _RIGHT
        if role == Qt.ItemDataRole.FontRole:
            strong = column == NUMBER or (column == NOW and (row.accepted or row.subject in self._waiting))
            return font(16, bold=strong)
        if role == Qt.ItemDataRole.ForegroundRole:
            return self._colour(row, column)
        return None

    def _note(self, row: ToolRow) -> str:
        waiting = self._waiting.get(row.subject)
        if waiting is not None:
            return waiting.words
        return " · ".join(w for w in (row.state.value, self._notes.get(row.number, "")) if w)

    def _colour(self, row: ToolRow, column: int) -> QColor | None:
        palette, waiting = current(), self._waiting.get(row.subject)
        if column in (NUMBER, MARK):
            return QColor(palette.accent)
        if waiting is not None and column in (NOW, CHANGE):
            return QColor(palette.bad if waiting.bad else palette.accent)
        if column == WAS or (column in (NOW, CHANGE) and not row.accepted):
            return QColor(palette.muted)
        if column == CHANGE and row.change is not None and abs(row.change) > BIG_CHANGE_MM:
            return QColor(palette.bad)
        return None

    def _words(self, row: ToolRow, column: int) -> str:
        u, waiting = self._units, self._waiting.get(row.subject)
        now = waiting.value_mm if waiting is not None else row.now
        if column == MARK:
            return "●" if row.number in self._marked else ""
        if column == WAS:
            return "–" if row.was is None else length(row.was, u, unit=False)
        if column == NOW:
            return "" if now is None else length(now, u, unit=False)
        if column == CHANGE:
            return "" if now is None or row.was is None else small(now - row.was, u, sign=True)
        return {NUMBER: f"T{row.number}", NAME: row.name}.get(column, "")


class NameDelegate(QStyledItemDelegate):
    """Paints a tool's name, and under it what is to be said of it."""

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint two lines over the row's ground."""
        name, note = index.data(Qt.ItemDataRole.DisplayRole), index.data(NOTE)
        paint_ground(painter, option)
        palette = current()
        area = QRectF(option.rect).adjusted(6, 0, -4, 0)
        painter.save()
        for words, y, pixels, ink in ((name, 22, 16, palette.ink), (note, 41, 13, index.data(NOTE_COLOUR))):
            painter.setFont(font(pixels))
            painter.setPen(QColor(ink))
            shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()))
            painter.drawText(QPointF(area.left(), area.top() + y), shown)
        painter.restore()


class ShapeDelegate(QStyledItemDelegate):
    """Paints a tool's outline, each to the height of the row."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._drawn: dict[tuple[object, ...], QPixmap] = {}

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint the outline over the row's ground."""
        paint_ground(painter, option)
        row: ToolRow = index.data(Qt.ItemDataRole.UserRole)
        room, ratio = option.rect.adjusted(2, 8, -2, -8), painter.device().devicePixelRatio()
        wanted = (row.kind, min(row.diameter, 60.0), current().name, room.width(), room.height(), ratio)
        if wanted not in self._drawn:
            if len(self._drawn) > MOST_DRAWN:
                self._drawn.clear()
            self._drawn[wanted] = _outline(row.kind, min(row.diameter, 60.0), room.size(), ratio)
        painter.drawPixmap(room.topLeft(), self._drawn[wanted])

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        """Room for the outline."""
        return QSize(42, 48)


def _outline(kind: str, diameter: float, room: QSize, ratio: float) -> QPixmap:
    made = QPixmap(room * ratio)
    made.setDevicePixelRatio(ratio)
    made.fill(Qt.GlobalColor.transparent)
    with QPainter(made) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        strokes = tuple(tool_outline(kind, diameter, 100.0, (0.0, 0.0))[1:])
        area = QRectF(QRect(QPoint(), room))
        FigurePainter(painter, current()).paint(Figure("", (-32, -2, 32, 58), strokes, ""), area)
    return made
