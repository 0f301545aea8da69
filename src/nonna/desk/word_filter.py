"""A list that shows only the rows that hold every word typed."""

from __future__ import annotations

from collections.abc import Collection, Container, Sequence

from PySide6.QtCore import QSortFilterProxyModel

from nonna.desk.cells import CellModel, Index


class SearchedModel(CellModel):
    """Cells whose rows can be found by words."""

    def searched(self) -> Sequence[str]:
        """Return what each row is found by, in small letters."""
        raise NotImplementedError

    def sieve(self, text: str) -> Container[int]:
        """Return the rows that stay in sight."""
        kept: Collection[int] = range(self.rowCount())
        found_by = self.searched() if text.strip() else ()
        for word in text.lower().split():  # word by word: a plain ``in`` is several times as fast as ``all`` of them
            kept = {row for row in kept if word in found_by[row]}
        return kept


class WordFilter(QSortFilterProxyModel):
    """The rows of a list that stay in sight, in their own order."""

    def __init__(self, rows: SearchedModel) -> None:
        super().__init__()
        self._rows = rows
        self._text = ""
        self._kept: Container[int] = rows.sieve("")
        rows.modelReset.connect(self._sift)  # before the rows are asked for anew: it was connected first
        self.setDynamicSortFilter(False)  # marks and results change cells, never what a row is found by
        self.setSourceModel(rows)

    def show_filter(self, text: str) -> None:
        """Keep the rows that hold every word typed."""
        if text != self._text:
            self._text = text
            self._sift()
            self.invalidate()  # at once: row by row, a long list takes seconds

    def filterAcceptsRow(self, row: int, parent: Index) -> bool:
        """Say whether a row stays in sight."""
        return row in self._kept

    def _sift(self) -> None:
        self._kept = self._rows.sieve(self._text)

    def behind(self, row: int) -> int:
        """Return the row of the list behind one that is in sight."""
        return self.mapToSource(self.index(row, 0)).row()
