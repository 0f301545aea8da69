"""A table as a calm list."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QTableView


def plain_rows(table: QTableView) -> None:
    """Make a table a calm list: whole rows, one at a time, no grid, no row numbers."""
    table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QTableView.SelectionMode.SingleSelection)
    table.setShowGrid(False)
    table.setFrameShape(QFrame.Shape.NoFrame)
    table.verticalHeader().hide()
