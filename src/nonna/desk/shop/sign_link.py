"""Signing behind the screen: the disk takes its time to have a record for certain."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.threads.work import FileWork

if TYPE_CHECKING:
    from nonna.bench.book.book import Book
    from nonna.errors import NonnaError

LOG = logging.getLogger("nonna")


class SignLink(QObject):
    """Signs one thing at a time."""

    signed = Signal(object)  #: what signing gave, such as receipts
    refused = Signal(object)  #: a NonnaError: nothing was signed, nothing is lost

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._work: FileWork | None = None

    @property
    def busy(self) -> bool:
        """Whether a record is on the way to the disk."""
        return self._work is not None

    def sign(self, sign: Callable[[], object], book: Book) -> None:
        """Do what signs into a book; nothing is done while something else is being signed."""
        if self._work is not None:
            return

        def look_at_the_clock(error: NonnaError) -> None:
            self._work = None
            window = self._window()
            if error.where != "signed_at" or window is None:
                self._on_failed(error)
                return

            def again() -> None:
                book.clock_is_right()
                self.sign(sign, book)

            dialog = QuestionDialog(error.message, self.tr("The clock is right"), again, window)
            dialog.rejected.connect(lambda: self._on_failed(error))
            show_over(dialog, window)

        self._work = FileWork(lambda _: sign(), self)
        self._work.done.connect(self._on_done)
        self._work.failed.connect(look_at_the_clock)
        self._work.start()

    def _window(self) -> QWidget | None:
        """Return the window it signs for, None without one."""
        owner = self.parent()
        while owner is not None and not isinstance(owner, QWidget):
            owner = owner.parent()
        return owner.window() if owner is not None else None

    def _on_done(self, found: object) -> None:
        self._work = None
        numbers = [str(each.number) for each in found if hasattr(each, "number")] if isinstance(found, tuple) else []
        LOG.info("signed: record %s", ", ".join(numbers) or "of the cards")
        self.signed.emit(found)

    def _on_failed(self, error: NonnaError) -> None:
        self._work = None
        LOG.warning("signing refused: %s at %s", error.code, error.where)
        self.refused.emit(error)
