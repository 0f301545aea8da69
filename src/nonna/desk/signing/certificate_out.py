"""Writes a record's certificate in the background and says how it went."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from nonna import wiring
from nonna.bench.session.front import Task
from nonna.desk.threads.work import Work

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


def write_certificate(window: DeskWindow, number: int, path: Path) -> None:
    """Write the certificate of one record of the shop shown."""
    book = window.folder.book

    def write(_: Task) -> str:
        wiring.write_certificate(book.get(number), path, book.withdrawal_of(number))
        return f"{path.name} written."

    work = Work(write, window)
    work.done.connect(lambda words: window.book.say(words, "good"))
    work.failed.connect(lambda error: window.book.say(error.message, "bad"))
    work.start()
