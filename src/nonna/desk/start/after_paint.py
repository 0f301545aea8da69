"""What the first picture need not wait for: the commands' keys, the first steps, coming back to the window."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtGui import QAction, QKeySequence

from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import commands
from nonna.desk.forms.overlay import ANYWHERE
from nonna.desk.frame.last_files import LastFiles
from nonna.desk.frame.window import DeskWindow
from nonna.desk.start.preloading import PageLoader, warm_up
from nonna.desk.threads.work import Work

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


KEYS, LENGTH = "ten-keys", "first-length"


class FirstSteps(QObject):
    """Follows one window; in the demo shop, where everything is there already, it says nothing."""

    def __init__(self, window: DeskWindow) -> None:
        super().__init__(window)
        self._window, self._lengths = window, -1
        window.ready.connect(self._on_ready)
        window.state_shown.connect(self._on_state)

    @property
    def _wanted(self) -> bool:
        site = self._window.site
        return site is not None and not site.shop.invented

    def _on_ready(self) -> None:
        if self._wanted and self._window.settings.tell_once(KEYS):
            self._window.tell("Ten keys are enough to begin: F1, then type “ten keys”.", "plain")

    def _on_state(self, state: ShopState) -> None:
        each = state.kind.loop.each
        count = len(list(state.standing.measured(each.procedure))) if each is not None else 0
        first, self._lengths = self._lengths == 0 and count > 0, count
        if first and self._wanted and self._window.settings.tell_once(LENGTH):
            words = (
                "The first length is in the book. Worth doing next: prove the setter on an artefact (Ctrl+K, "
                "proof), write the tool table (Ctrl+S)."
            )
            self._window.tell(words, "good")


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
