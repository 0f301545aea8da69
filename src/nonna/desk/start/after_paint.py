"""What the first picture need not wait for: the commands' keys, the first steps, coming back to the window."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence

from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import commands
from nonna.desk.forms.overlay import ANYWHERE
from nonna.desk.frame.last_files import LastFiles
from nonna.desk.start.first_steps import FirstSteps
from nonna.desk.start.preloading import PageLoader, warm_up
from nonna.desk.threads.work import Work

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


def complete(window: DeskWindow) -> None:
    """Make a window whole, and load what a sheet needs behind it."""
    for command in commands():
        action = QAction(command.words, window)
        if command.keys:
            action.setShortcut(QKeySequence(command.keys))
        action.setProperty(ANYWHERE, command.do is CommandId.HELP)
        action.triggered.connect(partial(_asked, window, command.do))
        window.addAction(action)
    LastFiles(window)
    FirstSteps(window)
    window.windowHandle().activeChanged.connect(partial(_on_active, window))
    folder, station = window.folder, window.station
    window.load_behind(Work(lambda _: warm_up(folder, station), window))


def load_pages(window: DeskWindow) -> None:
    """Load the pages between events, then say what was left unsigned, and what was changed outside."""
    PageLoader(window).done.connect(partial(_tell, window))


def _tell(window: DeskWindow) -> None:
    from nonna.desk.actions.by_command import tell_of_drafts
    from nonna.desk.signing.cards_outside import tell_of_changes

    tell_of_drafts(window)
    tell_of_changes(window)


def _asked(window: DeskWindow, do: str, checked: bool = False) -> None:
    del checked
    window.do(do)


def _on_active(window: DeskWindow) -> None:
    """Look again when the window is come back to: somebody else may have signed meanwhile."""
    if window.isActiveWindow() and window.site is not None:
        window.look_again()
