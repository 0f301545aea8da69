"""Signing behind the screen: the disk takes its time to have a record for certain."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from nonna.desk.work import FileWork

if TYPE_CHECKING:
    from nonna.bench.record import Receipt
    from nonna.errors import NonnaError

LOG = logging.getLogger("nonna")


class SignLink(QObject):
    """Signs one thing at a time."""

    signed = Signal(object)  #: receipts
    refused = Signal(object)  #: a NonnaError: nothing was signed, nothing is lost

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._work: FileWork | None = None

    @property
    def busy(self) -> bool:
        """Whether a record is on the way to the disk."""
        return self._work is not None

    def sign(self, sign: Callable[[], tuple[Receipt, ...]]) -> None:
        """Sign; nothing is done while something else is being signed."""
        if self._work is not None:
            return
        self._work = FileWork(lambda _: sign(), self)
        self._work.done.connect(self._on_done)
        self._work.failed.connect(self._on_failed)
        self._work.start()

    def _on_done(self, receipts: tuple[Receipt, ...]) -> None:
        self._work = None
        LOG.info("signed: record %s", ", ".join(str(receipt.number) for receipt in receipts))
        self.signed.emit(receipts)

    def _on_failed(self, error: NonnaError) -> None:
        self._work = None
        LOG.warning("signing refused: %s at %s", error.code, error.where)
        self.refused.emit(error)
