"""A copy of a ledger's file while others add to it."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from nonna.adapters.store.sqlite.opening import connect
from nonna.errors import NonnaError

PAGES = 200  #: copied between two looks at whether to stop


def copy_file(source: Path, target: Path, told: Callable[[int, int], None]) -> None:
    """Copy a ledger's file as it stands at one moment.

    Parameters: told, how many pages are copied and how many there are; may raise to stop. Raises: NonnaError.
    """
    try:
        with closing(connect(source)) as old, closing(sqlite3.connect(target)) as new:
            old.backup(new, pages=PAGES, progress=lambda _, left, whole: told(whole - left, whole))
    except sqlite3.Error as error:
        raise NonnaError("unreadable", "The shop was not copied: {words}.", "target", words=error) from error
