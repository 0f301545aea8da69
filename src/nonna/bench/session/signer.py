"""Signing behind the screen: the disk takes its time to have a record for certain."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from nonna.bench.session.signals import Signal

if TYPE_CHECKING:
    from nonna.bench.book.book import Book
    from nonna.bench.session.front import Front
    from nonna.errors import NonnaError

LOG = logging.getLogger("nonna")


class Signer:
    """Signs one thing at a time."""

    def __init__(self, front: Front) -> None:
        self._front, self.busy = front, False  #: whether a record is on the way to the disk
        self.signed: Signal[[Any]] = Signal()  #: what signing gave, such as receipts
        self.refused: Signal[[NonnaError]] = Signal()  #: nothing was signed, nothing is lost

    def sign(self, sign: Callable[[], object], book: Book) -> None:
        """Do what signs into a book; nothing is done while something else is being signed."""
        if self.busy:
            return

        def refused(error: NonnaError) -> None:
            self.busy = False
            if error.where != "signed_at" or not self._front.ask(
                error.message, "The clock is right", again, lambda: self._on_failed(error)
            ):
                self._on_failed(error)

        def again() -> None:
            book.clock_is_right()
            self.sign(sign, book)

        self.busy = True
        self._front.behind(lambda _: sign(), self._on_done, refused, file=True)

    def _on_done(self, found: object) -> None:
        self.busy = False
        numbers = [str(each.number) for each in found if hasattr(each, "number")] if isinstance(found, tuple) else []
        LOG.info("signed: record %s", ", ".join(numbers) or "of the cards")
        self.signed.emit(found)

    def _on_failed(self, error: NonnaError) -> None:
        LOG.warning("signing refused: %s at %s", error.code, error.where)
        self.refused.emit(error)
