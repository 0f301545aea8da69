"""A few rows of words under their heads, in a dialog: what stands, what is new, what of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from PySide6.QtWidgets import QGridLayout

from nonna.desk.widgets import label

Cell = tuple[str, str]  #: words and their role


def rows_grid(heads: Sequence[str], rows: Iterable[Sequence[Cell]]) -> QGridLayout:
    """Return the rows in a grid; its last column takes the room that is left."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(22)
    grid.setColumnStretch(len(heads) - 1, 1)
    for at, head in enumerate(heads):
        grid.addWidget(label(head, "quiet"), 0, at)
    for row, cells in enumerate(rows, 1):
        for at, (text, role) in enumerate(cells):
            grid.addWidget(label(text, role), row, at)
    return grid
