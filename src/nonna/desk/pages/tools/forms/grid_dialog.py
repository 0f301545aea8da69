"""Tools typed in rows, as in a spreadsheet: what is copied there is pasted here, what is wrong is said cell by cell."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QAbstractItemModel, QAbstractTableModel, QKeyCombination, QModelIndex, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QAbstractItemDelegate,
    QComboBox,
    QCompleter,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.session.tray.open_tray import OpenTray
from nonna.bench.tables.csv_table import LENGTHS
from nonna.bench.tray.tool_grid import Grid, block_of
from nonna.bench.undo import History
from nonna.desk.forms.cells import Index
from nonna.desk.forms.widgets import button, label
from nonna.desk.look.style import current, worn
from nonna.errors import NonnaError
from nonna.wording.fields import field_help
from nonna.wording.lengths import Units

NAME_PX = 70  #: no column is narrower: the name, that takes what is left
NUMBERS = (*LENGTHS, "number", "flutes")
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


class GridModel(QAbstractTableModel):
    """The cells of a grid; every change is a step that can be undone."""

    said = Signal(str, str)  #: words, tone

    def __init__(self, grid: Grid) -> None:
        super().__init__()
        self.grid = grid
        self._steps: History[Grid] = History()
        self._faults: dict[int, NonnaError | None] = {}

    def change(self, row: int, column: int, block: list[list[str]]) -> None:
        """Put texts in, the first of them in a cell; what they make wrong is said."""
        try:
            new = self.grid.with_cells(row, column, block)
        except NonnaError as error:
            self.said.emit(error.message, "bad")
            return
        if new == self.grid:
            return
        self._steps.remember(self.grid)
        self._show(new)
        faults = map(self.fault, range(row, row + len(block)))
        wrong = next((f for f in faults if f is not None and f.code != "missing-field"), None)  # it may still be typed
        self.said.emit(wrong.message if wrong else "", "due")

    def undo(self) -> None:
        """Go a step back."""
        if self._steps.can_undo:
            self._show(self._steps.undo(self.grid))
            self.said.emit("", "plain")

    def redo(self) -> None:
        """Go the step again."""
        if self._steps.can_redo:
            self._show(self._steps.redo(self.grid))
            self.said.emit("", "plain")

    def fault(self, row: int) -> NonnaError | None:
        """Return what is wrong with a row, looked at once."""
        if row not in self._faults:
            self._faults[row] = self.grid.fault(row)
        return self._faults[row]

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many rows."""
        return 0 if parent.isValid() else len(self.grid.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many columns."""
        return len(self.grid.columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Titles with their unit above, numbers of rows beside, what a column is good for as a tip."""
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1) if role == Qt.ItemDataRole.DisplayRole else None
        name = self.grid.columns[section]
        if role == Qt.ItemDataRole.ToolTipRole:
            return field_help(name)
        if role == Qt.ItemDataRole.TextAlignmentRole and name in NUMBERS:
            return _RIGHT
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        title = self.grid.asks.titles[name]
        return f"{title}, {self.grid.units.symbol}" if name in LENGTHS else title

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """A cell's text; in red, with the reason as its tip, where it is wrong."""
        name = self.grid.columns[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return self.grid.rows[index.row()].cells[index.column()]
        if role == Qt.ItemDataRole.TextAlignmentRole and name in NUMBERS:
            return _RIGHT
        wrong = self.fault(index.row())
        if wrong is None or wrong.where not in (name, ""):
            return None
        if role == Qt.ItemDataRole.ForegroundRole:
            return QBrush(QColor(current().bad))
        if role == Qt.ItemDataRole.BackgroundRole:
            return QBrush(QColor(current().wash))
        return (
            wrong.message if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleDescriptionRole) else None
        )

    def setData(self, index: Index, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed."""
        if role != Qt.ItemDataRole.EditRole:
            return False
        self.change(index.row(), index.column(), [[str(value)]])
        return True

    def flags(self, index: Index) -> Qt.ItemFlag:
        """Say that every cell may be typed in."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def _show(self, grid: Grid) -> None:
        before, now = len(self.grid.rows), len(grid.rows)
        if now > before:
            self.beginInsertRows(QModelIndex(), before, now - 1)
        elif now < before:
            self.beginRemoveRows(QModelIndex(), now, before - 1)
        self.grid, self._faults = grid, {}
        if now > before:
            self.endInsertRows()
        elif now < before:
            self.endRemoveRows()
        self.dataChanged.emit(self.index(0, 0), self.index(now - 1, len(grid.columns) - 1))


class _Cells(QStyledItemDelegate):
    """Offers what a cell can hold, where that is one of a few words; the first letters are enough."""

    def __init__(self, model: GridModel, parent: QWidget) -> None:
        super().__init__(parent)
        self._model = model

    def createEditor(self, parent: QWidget, option: QStyleOptionViewItem, index: Index) -> QWidget:
        """Return a line to type in, or a choice that can be typed in too."""
        choices = self._model.grid.asks.choices.get(self._model.grid.columns[index.column()], ())
        if not choices:
            return super().createEditor(parent, option, index)
        box = QComboBox(parent)
        box.setEditable(True)
        box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        box.addItems([words for _, words in choices])
        box.setAccessibleName(str(self._model.headerData(index.column(), Qt.Orientation.Horizontal)))
        line = box.lineEdit()
        if line is not None:
            line.returnPressed.connect(partial(self._done, box))  # a choice keeps its Enter to itself
        completer = box.completer()
        if completer is not None:
            completer.setCompletionMode(QCompleter.CompletionMode.InlineCompletion)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        return box

    def _done(self, box: QComboBox) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box, QAbstractItemDelegate.EndEditHint.SubmitModelCache)

    def setEditorData(self, editor: QWidget, index: Index) -> None:
        """Put the cell's text into its editor."""
        if isinstance(editor, QComboBox):
            editor.setCurrentText(str(index.data(Qt.ItemDataRole.EditRole) or ""))
            line = editor.lineEdit()
            if line is not None:
                line.selectAll()
        else:
            super().setEditorData(editor, index)

    def setModelData(self, editor: QWidget, model: QAbstractItemModel, index: Index) -> None:
        """Take what stands in the editor."""
        if isinstance(editor, QComboBox):
            model.setData(index, editor.currentText().strip())
        else:
            super().setModelData(editor, model, index)


class GridTable(QTableView):
    """Typing begins in the cell under the cursor; Tab goes on to the right, Enter to the next row."""

    def __init__(self, model: GridModel, parent: QWidget) -> None:
        super().__init__(parent)
        self._model = model
        self.setModel(model)
        self.setAccessibleName(self.tr("Tools, a row each"))
        delegate = _Cells(model, self)
        self.setItemDelegate(delegate)
        delegate.closeEditor.connect(self._on_closed)
        self.setCornerButtonEnabled(False)
        header = self.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        for column, width in enumerate(model.grid.asks.grid.values()):
            self.setColumnWidth(column, width)
            if not width:
                header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        header.setMinimumSectionSize(NAME_PX)
        self.verticalHeader().setDefaultSectionSize(34)

    def go_to(self, row: int, column: int) -> None:
        """Put the cursor on a cell."""
        self.setFocus()
        self.setCurrentIndex(self._model.index(row, column))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Copy, paste, empty, undo; the rest moves or types."""
        at = self.currentIndex()
        if event.matches(QKeySequence.StandardKey.Paste):
            if text := QGuiApplication.clipboard().text():
                self._model.change(max(0, at.row()), max(0, at.column()), block_of(text))
        elif event.matches(QKeySequence.StandardKey.Copy):
            QGuiApplication.clipboard().setText(self._copied())
        elif event.matches(QKeySequence.StandardKey.Undo):
            self._model.undo()
        elif event.matches(QKeySequence.StandardKey.Redo) or event.keyCombination() == _CTRL_Y:
            self._model.redo()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._empty()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers():
            self.edit(at)
        else:
            super().keyPressEvent(event)

    def _span(self) -> tuple[int, int, int, int]:
        chosen = self.selectedIndexes() or [self.currentIndex()]
        rows, columns = [i.row() for i in chosen], [i.column() for i in chosen]
        return min(rows), max(rows), min(columns), max(columns)

    def _copied(self) -> str:
        top, bottom, left, right = self._span()
        rows = self._model.grid.rows[top : bottom + 1]
        return "\n".join("\t".join(row.cells[left : right + 1]) for row in rows)

    def _empty(self) -> None:
        top, bottom, left, right = self._span()
        self._model.change(top, left, [[""] * (right - left + 1)] * (bottom - top + 1))

    def _on_closed(self, _: QWidget, hint: QAbstractItemDelegate.EndEditHint) -> None:
        if hint == QAbstractItemDelegate.EndEditHint.SubmitModelCache:  # Enter, not Tab
            self.go_to(min(self.currentIndex().row() + 1, self._model.rowCount() - 1), 0)


_CTRL_Y = QKeyCombination(Qt.Modifier.CTRL, Qt.Key.Key_Y)


class GridDialog(QDialog):
    """Ctrl+Enter takes everything over, or says which cell is wrong; Esc asks before typed rows are lost."""

    def __init__(self, controller: OpenTray, grid: Grid, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._controller, self._leaving = controller, False
        self._began = controller.tray.tools
        self.model = GridModel(grid)
        self.table = worn(GridTable(self.model, self))
        self._said = label("", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(self.tr("Tools in a grid"), "title"))
        column.addWidget(label(grid.asks.hint, "quiet", wrap=True))
        column.addWidget(self.table, 1)
        column.addWidget(self._said)
        row = QHBoxLayout()
        row.addWidget(label(self.tr("Tab goes on, Enter to the next row, Ctrl+Z undoes."), "quiet", wrap=True), 1)
        row.addWidget(button(self.tr("Into the tray   Ctrl+Enter"), self.take, self.tr("Into the tray"), main=True))
        column.addLayout(row)
        self.model.said.connect(self.say)
        self.resize(1080, 620)
        self.table.go_to(max(0, len(grid.rows) - 1), 0)

    def say(self, words: str, tone: str) -> None:
        """Say something under the rows."""
        self._leaving = False
        self._said.setText(words)
        self._said.show_tone(tone)

    def take(self) -> None:
        """Put all that was changed into the tray, or say what is wrong and go there."""
        tray = self._controller.tray
        if tray.tools != self._began:
            self.say(
                self.tr(
                    "The tools were changed elsewhere meanwhile. Copy your rows with Ctrl+C and open the grid again."
                ),
                "bad",
            )
            return
        try:
            taken = self.model.grid.taken(tray)
        except NonnaError as error:
            self.say(error.message, "bad")
            row, _, name = error.where.partition(".")
            if row.isdigit():
                columns = self.model.grid.columns
                self.table.go_to(int(row), columns.index(name) if name in columns else 0)
            return
        self.accept()
        if taken != tray:
            self._controller.change(taken)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Ctrl+Enter takes over; other keys are the rows'."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.take()
            return
        super().keyPressEvent(event)

    def reject(self) -> None:
        """Leave; typed rows are lost only when that was said twice."""
        count = self.model.grid.changed
        if count and not self._leaving:
            what = self.tr("one row that was changed") if count == 1 else f"{count} rows that were changed"
            self.say(self.tr("Esc once more throws away ") + f"{what}. Ctrl+Enter takes them over.", "due")
            self._leaving = True
            return
        super().reject()


def grid_dialog(controller: OpenTray, units: Units, parent: QWidget) -> GridDialog:
    """Return a grid of the tray's tools."""
    return GridDialog(controller, Grid.of(controller.tray.tools, units.fine, controller.tool_fields), parent)
