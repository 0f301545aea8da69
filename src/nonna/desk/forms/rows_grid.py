"""A few rows of words under their heads, in a dialog: what stands, what is new, what of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from PySide6.QtWidgets import QGridLayout

from nonna.desk.forms.widgets import label

Cell = tuple[str, str]  #: words and their role


def rows_grid(heads: Sequence[str], rows: Iterable[Sequence[Cell]]) -> QGridLayout:
    """Return the rows in a grid; its first and last column, which are words, share the room that is left."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(16)
    grid.setColumnStretch(0, 1)
    grid.setColumnStretch(len(heads) - 1, 2)
    for at, head in enumerate(heads):
        grid.addWidget(label(head, "quiet", wrap=True), 0, at)
    for row, cells in enumerate(rows, 1):
        for at, (text, role) in enumerate(cells):
            in_words = at in (0, len(cells) - 1)  # what is called or said may take two lines, a number never
            grid.addWidget(label(text, role, wrap=in_words), row, at)
    return grid
