"""The tray's table: marks with Space, wishes by single letters, everything else moves the cursor."""

from __future__ import annotations

from PySide6.QtCore import QItemSelectionModel, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QHeaderView, QTableView, QWidget

from nonna.desk.forms.cells import CellDelegate
from nonna.desk.forms.plain_rows import plain_rows
from nonna.desk.look.style import font
from nonna.desk.pages.tools.model import CHANGE, MARK, NAME, NOW, NUMBER, SHAPE, WAS, ShapeDelegate, ShownTools

WIDTHS = {MARK: 24, NUMBER: 56, SHAPE: 42, WAS: 94, NOW: 97, CHANGE: 100}
GIVE_WAY = (SHAPE, WAS, CHANGE)  #: the first of them first
NAME_MARGIN, LONGEST_NAME = 14, 190  #: px of a name that a column gives way to
LEAST_NAME = 100  #: px of a name before a drawing beside the table gives way


class TrayTable(QTableView):
    """Shows the tools in sight."""

    space_pressed = Signal()
    enter_pressed = Signal(bool)  #: with Ctrl
    letter_pressed = Signal(str)
    moved = Signal()

    def __init__(self, model: ShownTools, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(self.tr("Tools"))
        self.setModel(model)
        self._model = model
        plain_rows(self)
        self.setWordWrap(False)
        self.setItemDelegate(CellDelegate(self, 16))
        self.setItemDelegateForColumn(SHAPE, ShapeDelegate(self))
        self.setItemDelegateForColumn(NAME, CellDelegate(self, 16, 6))
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.verticalHeader().setDefaultSectionSize(54)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.horizontalHeader()
        header.setMinimumSectionSize(26)
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        header.setSectionResizeMode(NAME, QHeaderView.ResizeMode.Stretch)
        for column, width in WIDTHS.items():
            self.setColumnWidth(column, width)
        self.selectionModel().currentRowChanged.connect(lambda *_: self.moved.emit())
        self._number = 0
        self._lengths = True
        model.modelAboutToBeReset.connect(self._remember)  # by words, or from behind: the cursor stays on its tool
        model.modelReset.connect(lambda: self.go_to(self._number))
        model.modelReset.connect(self._share_out)

    @property
    def least(self) -> int:
        """How wide it has to be for all its numbers, and the beginning of each name."""
        return sum(WIDTHS.values()) + LEAST_NAME

    @property
    def number(self) -> int | None:
        """The tool under the cursor."""
        row = self._model.row(self.currentIndex().row()) if self.currentIndex().isValid() else None
        return row.number if row else None

    def show_lengths(self, shown: bool) -> None:
        """Show lengths, or leave their room to the names where tools have none."""
        self._lengths = shown
        self._share_out()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Where there is too little room a whole column gives way: no number is ever cut."""
        super().resizeEvent(event)
        self._share_out()

    def _share_out(self) -> None:
        hidden = set() if self._lengths else {WAS, NOW, CHANGE}
        name = min(self._model.widest_name(QFontMetrics(font(16))) + NAME_MARGIN, LONGEST_NAME)
        for column in GIVE_WAY:
            wide = sum(width for each, width in WIDTHS.items() if each not in hidden)
            if wide + name <= self.viewport().width():
                break
            hidden.add(column)
        self._model.fold(hidden if self._lengths else ())
        for column in WIDTHS:
            self.setColumnHidden(column, column in hidden)

    def go_to(self, number: int) -> None:
        """Put the cursor on a tool, where it is shown."""
        at = max(0, self._model.row_of(number))
        if self._model.rowCount():
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            self.selectionModel().setCurrentIndex(self._model.index(at, 0), flags)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space, Enter and letters are wishes; the rest moves the cursor."""
        key, control = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if key == Qt.Key.Key_Space:
            self.space_pressed.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.enter_pressed.emit(control)
        elif event.text().isalpha() and not control:
            self.letter_pressed.emit(event.text().lower())
        elif key == Qt.Key.Key_Delete:
            self.letter_pressed.emit("delete")
        else:
            super().keyPressEvent(event)

    def _remember(self) -> None:
        if self.number is not None:
            self._number = self.number
