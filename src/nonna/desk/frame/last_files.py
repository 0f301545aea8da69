"""A window that is closed while a file is on its way stays until the file is there."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from nonna.desk.threads.work import FileWork

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


class LastFiles(QObject):
    """Holds a window open once: closed again it leaves at once, whatever a stick is doing."""

    def __init__(self, window: DeskWindow) -> None:
        super().__init__(window)
        self._window, self._holds = window, False
        window.held_open = self.hold

    def hold(self) -> bool:
        """Keep the first wish to close back while files are on their way; says whether it is."""
        if self._holds or not (works := self._under_way()):
            return False
        self._holds = True
        words = "A file is on its way. The window closes when it is there; close again to leave at once."
        self._window.tell(words, "due")
        self._follow(works)
        return True

    def _follow(self, works: list[FileWork]) -> None:
        for work in works:
            work.done.connect(self._on_done)
            work.failed.connect(self._on_failed)

    def _under_way(self) -> list[FileWork]:
        works = [work for part in (self._window, *self._window.pages.all) for work in part.findChildren(FileWork)]
        return [work for work in works if work.busy]

    def _on_done(self) -> None:
        if not self._holds:
            return
        if works := self._under_way():
            self._follow(works)  # one more was begun: what hands changed last
            return
        self._holds = False
        self._window.close()

    def _on_failed(self) -> None:
        self._holds = False  # why is said, and is to be read
