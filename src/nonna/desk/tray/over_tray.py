"""Dialogs over the tray: when one goes, the keyboard is back there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDialog

from nonna.desk.forms.file_dialog import ask_file, ask_where
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow
    from nonna.errors import NonnaError

ROWS_SHOWN = 4  #: of a file, of those that cannot be read


def show_dialog(window: DeskWindow, dialog: QDialog) -> None:
    """Open a dialog; when it goes, the keyboard is back in the tray."""
    _back_after(window, dialog)
    show_over(dialog, window)


def _back_after(window: DeskWindow, dialog: QDialog) -> None:
    def back_to_the_tray(_: int) -> None:
        window.activateWindow()
        window.tools.table.setFocus()

    dialog.finished.connect(back_to_the_tray)


def open_file(window: DeskWindow, title: str, kinds: str, take: Callable[[Path], None]) -> None:
    """Ask for a file that exists."""
    _back_after(window, ask_file(window, title, kinds, take))


def save_file(window: DeskWindow, title: str, name: str, kinds: str, take: Callable[[Path], None]) -> None:
    """Ask where a file is to be written."""
    _back_after(window, ask_where(window, title, name, kinds, take))


def take_the_rest(window: DeskWindow, wrong: Sequence[NonnaError], rest: str, take: Callable[[], None]) -> None:
    """Take rows; where some cannot be read they are shown first, and the others are taken when somebody says so."""
    if not wrong:
        take()
        return
    said = " ".join(error.message for error in wrong[:ROWS_SHOWN])
    more = f" And {len(wrong) - ROWS_SHOWN} more rows." if len(wrong) > ROWS_SHOWN else ""
    words = f"Not readable: {said}{more}"
    show_dialog(window, QuestionDialog(words, f"Take the other {rest}", take, window, "Take nothing"))
