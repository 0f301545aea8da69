"""Writes a record's certificate in the background and says how it went."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from nonna.desk.work import Task, Work

if TYPE_CHECKING:
    from nonna.desk.window import DeskWindow


def write_certificate(window: DeskWindow, number: int, path: Path) -> None:
    """Write the certificate of one record of the shop shown."""
    folder = window.folder

    def write(_: Task) -> str:
        from nonna.records.certificate_pdf import write
        from nonna.records.ledger import Ledger

        with Ledger(folder.ledger, create=False, reading=True) as book:
            write(book.get(number), path, book.withdrawal_of(number))
        return f"{path.name} written."

    work = Work(write, window)
    work.done.connect(lambda words: window.book.say(words, "good"))
    work.failed.connect(lambda error: window.book.say(error.message, "bad"))
    work.start()
