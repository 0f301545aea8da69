"""A list that shows only the rows that hold every word typed."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence

from PySide6.QtCore import QAbstractTableModel, QModelIndex, Qt

from nonna.desk.forms.cells import CellModel, Index


class SearchedModel(CellModel):
    """Cells whose rows can be found by words."""

    def searched(self) -> Sequence[str]:
        """Return what each row is found by, in small letters."""
        raise NotImplementedError

    def number(self, row: int) -> int:
        """Return the number that is typed in the list to go to a row."""
        raise NotImplementedError

    def sieve(self, text: str) -> Sequence[int]:
        """Return the rows that stay in sight, in their order."""
        kept: Sequence[int] = range(self.rowCount())
        found_by = self.searched() if text.strip() else ()
        for word in text.lower().split():  # word by word: a plain ``in`` is several times as fast as ``all`` of them
            kept = [row for row in kept if word in found_by[row]]
        return kept


class WordFilter(QAbstractTableModel):
    """The rows of a list that stay in sight, in their own order.

    Qt's own filter asks for one row after another, through Python: with thousands of rows that takes longer than
    everything else a letter typed sets going.
    """

    def __init__(self, rows: SearchedModel) -> None:
        super().__init__()
        self._rows = rows
        self._text = ""
        self._kept = rows.sieve("")
        rows.modelAboutToBeReset.connect(self.beginResetModel)
        rows.modelReset.connect(self._on_reset)
        rows.dataChanged.connect(self._on_changed)

    def show_filter(self, text: str) -> None:
        """Keep the rows that hold every word typed."""
        if text != self._text:
            self.beginResetModel()
            self._text = text
            self._on_reset()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many rows are in sight."""
        return 0 if parent.isValid() else len(self._kept)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many columns."""
        return self._rows.columnCount()

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Column names, over their numbers."""
        return self._rows.headerData(section, orientation, role)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """What the list behind says of the cell."""
        return self._rows.data(self._rows.index(self.behind(index.row()), index.column()), role)

    def match(self, start: Index, role: int, value: object, hits: int = 1, flags: object = None) -> list[QModelIndex]:
        """The row of the number typed, or the next one whose number begins so; asked by Qt when somebody types in the
        list.

        Qt's own looks at one cell's words after another: in a long list that takes longer than anything else a key
        does.
        """
        typed, number = str(value), self._rows.number
        begun = (row for row, behind in enumerate(self._kept) if str(number(behind)).startswith(typed))
        best = min(begun, key=lambda row: (str(number(self._kept[row])) != typed, row < start.row()), default=-1)
        return [self.index(best, start.column())] if best >= 0 and start.isValid() else []

    def behind(self, row: int) -> int:
        """Return the row of the list behind one that is in sight."""
        return self._kept[row]

    def in_sight(self, behind: int) -> int:
        """Return where a row of the list behind is in sight, -1 where it is not."""
        at = bisect_left(self._kept, behind)
        return at if at < len(self._kept) and self._kept[at] == behind else -1

    def _on_reset(self) -> None:
        self._kept = self._rows.sieve(self._text)
        self.endResetModel()

    def _on_changed(self, first: Index, last: Index) -> None:
        top, below = bisect_left(self._kept, first.row()), bisect_right(self._kept, last.row())
        if top < below:
            self.dataChanged.emit(self.index(top, first.column()), self.index(below - 1, last.column()))
