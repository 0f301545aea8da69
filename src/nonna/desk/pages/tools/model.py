"""The tray as an item model and how its rows are painted."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from PySide6.QtCore import (
    QModelIndex,
    QObject,
    QPoint,
    QRect,
    QRectF,
    QSize,
    Qt,
)
from PySide6.QtGui import QFontMetrics, QPainter, QPixmap
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from nonna.bench.session.tray.picture import ROUGH, Waiting
from nonna.bench.tables.tool_table import ToolRow
from nonna.bench.tray.tray import numbers_in
from nonna.desk.forms.cells import Cell, Index, paint_ground
from nonna.desk.forms.figure_view import FigurePainter
from nonna.desk.forms.word_filter import SearchedModel, WordFilter
from nonna.desk.look.palette import STATE_INK
from nonna.desk.look.style import current
from nonna.figures.figure import Figure
from nonna.figures.setter import tool_outline
from nonna.shop.links.subjects import Subject
from nonna.wording.lengths import Units, length, number, small

MARK, NUMBER, SHAPE, NAME, WAS, NOW, CHANGE = range(7)
RIGHT = (WAS, NOW, CHANGE)
BIG_CHANGE_MM = 0.05
LONGEST_NAMES = 8  #: of the names, whose widths are measured
MOST_DRAWN = 200  #: outlines kept


class ToolModel(SearchedModel):
    """Adapts tool rows."""

    HEADERS = ("", "Tool", "", "", "Table", "Measured", "Change")
    RIGHT = RIGHT

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[ToolRow, ...] = ()
        self._haystacks: list[str] = []
        self._marked: frozenset[int] = frozenset()
        self._waiting: Mapping[Subject, Waiting] = {}
        self._notes: Callable[[int], str] = lambda _: ""
        self._units = Units.MM
        self._folded: tuple[int, ...] = ()

    @property
    def rows(self) -> tuple[ToolRow, ...]:
        """All rows, also those that a filter hides."""
        return self._rows

    def show_rows(self, rows: tuple[ToolRow, ...], units: Units) -> None:
        """Take new rows."""
        self.beginResetModel()
        self._rows, self._units = rows, units
        self._haystacks = [
            f"T{r.number} {r.subject.words} {r.name} {r.kind} {r.diameter:g} {r.state.value}".lower() for r in rows
        ]
        self.endResetModel()

    def show_marks(
        self, marked: Collection[int], waiting: Mapping[Subject, Waiting], notes: Callable[[int], str]
    ) -> None:
        """Show marks, results that wait, and what stands under the names."""
        self._marked, self._waiting, self._notes = frozenset(marked), waiting, notes
        if self._rows:
            self.dataChanged.emit(self.index(0, 0), self.index(len(self._rows) - 1, len(self.HEADERS) - 1))

    def searched(self) -> Sequence[str]:
        """Return what each tool is found by."""
        return self._haystacks

    def number(self, row: int) -> int:
        """Return a tool's number."""
        return self._rows[row].number

    def sieve(self, text: str) -> Sequence[int]:
        """Leave rows that hold every word typed, or the tools of a range such as ``2-9, 14``."""
        spans = numbers_in(text)
        if spans is None:
            return super().sieve(text)
        return sorted({row for row, tool in enumerate(self._rows) for span in spans if tool.number in span})

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many tools."""
        return 0 if parent.isValid() else len(self._rows)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """The row for its outline, what is read aloud, and the cells."""
        if role == Qt.ItemDataRole.UserRole:
            return self._rows[index.row()]
        if role == Qt.ItemDataRole.AccessibleTextRole:
            row = self._rows[index.row()]
            return f"T{row.number} {row.name}: {self._note(row)}"
        return super().data(index, role)

    def cell(self, row: int, column: int) -> Cell:
        """Return what stands in a cell."""
        tool = self._rows[row]
        waiting = self._waiting.get(tool.subject)
        if column == NAME:
            ink = STATE_INK[tool.state] if waiting is None else "bad" if waiting.bad else "accent"
            return Cell(tool.name, note=" · ".join([*self._folded_into(tool), self._note(tool)]), note_ink=ink)
        bold = column == NUMBER or (column == NOW and (tool.accepted or waiting is not None))
        return Cell(self.words_in(tool, column), self._ink(tool, column), bold, column in RIGHT)

    def fold(self, columns: Collection[int]) -> None:
        """Say in a line under the name what these columns say, that have no room of their own."""
        folded = tuple(column for column in (WAS, CHANGE) if column in columns)
        if folded != self._folded:
            self._folded = folded
            if self._rows:
                self.dataChanged.emit(self.index(0, NAME), self.index(len(self._rows) - 1, NAME))

    def widest_name(self, metrics: QFontMetrics) -> int:
        """Return how wide the widest name is."""
        longest = sorted({row.name for row in self._rows}, key=len)[-LONGEST_NAMES:]
        return max(map(metrics.horizontalAdvance, longest), default=0)

    def _folded_into(self, row: ToolRow) -> list[str]:
        words = ((self.HEADERS[column].lower(), self.words_in(row, column)) for column in self._folded)
        return [f"{name} {value}" for name, value in words if value]

    def _note(self, row: ToolRow) -> str:
        waiting = self._waiting.get(row.subject)
        if waiting is not None:
            return waiting.words
        notes = self._notes(row.number)
        if row.accepted:  # it was measured since
            notes = notes.removeprefix(ROUGH).removeprefix(" · ")
        return " · ".join(w for w in (row.state.value, notes) if w)

    def _ink(self, row: ToolRow, column: int) -> str:
        waiting = self._waiting.get(row.subject)
        if column in (NUMBER, MARK):
            return "accent"
        if waiting is not None and column in (NOW, CHANGE):
            return "bad" if waiting.bad else "accent"
        if column == WAS or (column in (NOW, CHANGE) and not row.accepted):
            return "muted"
        return "bad" if column == CHANGE and row.change is not None and abs(row.change) > BIG_CHANGE_MM else "ink"

    def words_in(self, row: ToolRow, column: int) -> str:
        """Return what stands in a cell."""
        u, waiting = self._units, self._waiting.get(row.subject)
        now = waiting.value_mm if waiting is not None else row.now
        if column == MARK:
            return "●" if row.number in self._marked else ""
        if column == WAS:
            if row.was is not None and row.rough:
                return f"about {number(row.was * u.scale, 0 if u.metric else 2)}"
            return "–" if row.was is None else length(row.was, u, unit=False)
        if column == NOW:
            return "" if now is None else length(now, u, unit=False)
        if column == CHANGE:
            return "" if now is None or row.was is None else small(now - row.was, u, sign=True)
        return {NUMBER: f"T{row.number}", NAME: row.name}.get(column, "")


class ShownTools(WordFilter):
    """The tools in sight."""

    def __init__(self, tools: ToolModel) -> None:
        super().__init__(tools)
        self._tools = tools

    @property
    def rows(self) -> tuple[ToolRow, ...]:
        """Those in sight, as they stand."""
        return tuple(self._tools.rows[self.behind(row)] for row in range(self.rowCount()))

    def fold(self, columns: Collection[int]) -> None:
        """Say these columns in the names' second lines."""
        self._tools.fold(columns)

    def widest_name(self, metrics: QFontMetrics) -> int:
        """Return how wide the widest name is."""
        return self._tools.widest_name(metrics)

    def row_of(self, number: int) -> int:
        """Return the row of a tool, -1 where it is not in sight."""
        behind = next((i for i, row in enumerate(self._tools.rows) if row.number == number), -1)
        return self.in_sight(behind)

    def row(self, index: int) -> ToolRow | None:
        """Return the tool of a row, None where there is none."""
        return self._tools.rows[self.behind(index)] if 0 <= index < self.rowCount() else None


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
