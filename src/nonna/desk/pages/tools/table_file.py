"""The tool table written to a file, for the machine to load."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QWidget

from nonna import wiring
from nonna.bench.tables.tool_table import ToolRow, has_offsets, table_text
from nonna.desk.threads.work import behind
from nonna.shop.cards.machine import Tool


def write_table(
    parent: QWidget,
    path: Path,
    rows: Sequence[ToolRow],
    tools: Sequence[Tool],
    machine: str,
    written: Callable[[str], None],
    refused: Callable[[str], None],
) -> None:
    """Write a table by its file's ending, behind the screen; what was written, or why not, comes in words."""
    new = sum(row.accepted for row in rows)
    said = f"{new} measured lengths, {len(rows) - new} kept"
    if has_offsets(tools):
        said = f"offsets of {len(tools)} tools"
    behind(
        parent,
        lambda: wiring.write_text(path, table_text(path.suffix, rows, tools, machine)),
        lambda _: written(f"{path.name} written: {said}."),
        lambda error: refused(f"{error.message} Choose another place."),
    )
