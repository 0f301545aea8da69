"""A table as a calm list."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QTableView

HEAD_PX = 44  #: two lines of a column's title


def wrapped_heads(table: QTableView) -> None:
    """Let titles of columns take two lines, so that none is cut."""
    header = table.horizontalHeader()
    header.setDefaultAlignment(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
    header.setMinimumHeight(HEAD_PX)


def plain_rows(table: QTableView) -> None:
    """Make a table a calm list: whole rows, one at a time, no grid, no row numbers."""
    table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QTableView.SelectionMode.SingleSelection)
    table.setShowGrid(False)
    table.setFrameShape(QFrame.Shape.NoFrame)
    table.verticalHeader().hide()
