"""A list that shows only the rows that hold every word typed."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSortFilterProxyModel

from nonna.desk.cells import CellModel, Index


class SearchedModel(CellModel):
    """Cells whose rows can be found by words."""

    def searched(self, row: int) -> str:
        """Return what a row is found by, in small letters."""
        raise NotImplementedError

    def sieve(self, text: str) -> Callable[[int], bool]:
        """Return what says whether a row stays in sight."""
        wanted = text.lower().split()
        return lambda row: all(word in self.searched(row) for word in wanted)


class WordFilter(QSortFilterProxyModel):
    """The rows of a list that stay in sight, in their own order."""

    def __init__(self, rows: SearchedModel) -> None:
        super().__init__()
        self._rows = rows
        self._text, self._keeps = "", rows.sieve("")
        self.setDynamicSortFilter(False)  # marks and results change cells, never what a row is found by
        self.setSourceModel(rows)

    def show_filter(self, text: str) -> None:
        """Keep the rows that hold every word typed."""
        if text != self._text:
            self._text, self._keeps = text, self._rows.sieve(text)
            self.invalidate()  # at once: row by row, a long list takes seconds

    def filterAcceptsRow(self, row: int, parent: Index) -> bool:
        """Say whether a row stays in sight."""
        return self._keeps(row)

    def behind(self, row: int) -> int:
        """Return the row of the list behind one that is in sight."""
        return self.mapToSource(self.index(row, 0)).row()
