"""What is said once to whoever begins: which keys are enough, and what is worth doing after the first length."""

from __future__ import annotations

from PySide6.QtCore import QObject

from nonna.bench.station.state import ShopState
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
