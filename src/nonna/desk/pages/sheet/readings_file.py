"""Readings of a file come onto a sheet."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject

from nonna import wiring
from nonna.bench import clock
from nonna.desk.threads.work import behind
from nonna.procedures.from_file import with_file
from nonna.procedures.session import Session


def read_file(
    sheet: QObject,
    path: Path,
    before: Session,
    take: Callable[[str, Session, Session], None],
    refuse: Callable[[str], None],
) -> None:
    """Read a file behind the screen; nothing is taken when anything is wrong with it.

    Parameters: take, is given the file's name, the session as it was, and with what the file says.
    """
    stamp = clock.stamp()
    behind(
        sheet,
        lambda: with_file(before, path.name, wiring.read_bytes(path), stamp),
        lambda found: take(path.name, before, found),
        lambda error: refuse(error.message),
    )
