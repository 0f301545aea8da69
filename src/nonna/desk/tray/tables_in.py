"""Tools taken into the tray: from a file, or as a spreadsheet copied them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtGui import QGuiApplication

from nonna.bench.tables.columns_chosen import ForeignTable, keep_columns, tools_in_rows
from nonna.bench.tables.csv_table import with_headers
from nonna.bench.tables.files import tools_in
from nonna.desk.pages.tools.dialogs import columns_dialog
from nonna.desk.threads.work import behind
from nonna.desk.tray.machine_results import same_machine
from nonna.desk.tray.over_tray import open_file, show_dialog, take_the_rest
from nonna.shop.texts.csv_rows import RowsRead
from nonna.wiring import read_bytes

if TYPE_CHECKING:
    from nonna.bench.tables.csv_table import Columns
    from nonna.desk.frame.window import DeskWindow
    from nonna.shop.cards.machine import Tool


def take_table(window: DeskWindow) -> None:
    """Ask for a tool table to take in."""
    open_file(
        window,
        "Take tools in",
        "Tool tables (*.csv *.json *.xml *.txt);;All files (*)",
        lambda path: read_table(window, path),
    )


def read_table(window: DeskWindow, path: Path) -> None:
    """Take the tools of a file in: the whole file or nothing; columns are asked for once."""
    folder = window.folder

    def read() -> RowsRead[Tool] | ForeignTable:
        data = read_bytes(path)
        if path.suffix.lower() in (".json", ".xml"):
            return RowsRead(tools_in(path.name, data))
        return tools_in_rows(folder, data)

    _take_tools(window, path.name, read)


def paste_table(window: DeskWindow) -> None:
    """Take tools in as a spreadsheet copied them, with a line of headers or without."""
    text = QGuiApplication.clipboard().text()
    if not text.strip():
        window.tools.say("Nothing is copied. Mark the rows in your spreadsheet, Ctrl+C there, Ctrl+V here.", "due")
        return
    folder = window.folder
    _take_tools(window, "the clipboard", lambda: tools_in_rows(folder, with_headers(text).encode()))


def _take_tools(window: DeskWindow, name: str, read: Callable[[], RowsRead[Tool] | ForeignTable]) -> None:
    """Take tools in as they are read; where it is not plain which column holds what, that is asked first."""
    folder, still = window.folder, same_machine(window)

    def mapped(found: ForeignTable, tools: tuple[Tool, ...], columns: Columns) -> None:
        _merge(window, name, tools)
        behind(
            window,
            lambda: keep_columns(folder, found.table.signature, columns),
            lambda _: None,
            lambda error: window.tools.say(f"What its columns hold will be asked again: {error.message}", "due"),
        )

    def take(found: RowsRead[Tool] | ForeignTable) -> None:
        if not still():
            return
        if isinstance(found, RowsRead):
            take_the_rest(window, found.wrong, f"{len(found.rows)} tools", lambda: _merge(window, name, found.rows))
        else:
            show_dialog(window, columns_dialog(name, found, partial(mapped, found), window))

    behind(window, read, take, lambda error: window.tools.say(f"{name}: {error.message} Nothing was taken.", "bad"))


def _merge(window: DeskWindow, name: str, tools: tuple[Tool, ...]) -> None:
    c = window.tools.controller
    c.change(c.tray.merged(tools))
    window.tools.say(f"{len(tools)} tools from {name}. Ctrl+Z takes them out again.", "good")
