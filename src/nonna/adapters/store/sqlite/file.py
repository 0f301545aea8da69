"""A ledger's file: made whole in one step, never over another, and refused where it is not ours."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from nonna.adapters.store.sqlite.opening import connect
from nonna.adapters.store.sqlite.shapes import create
from nonna.errors import NonnaError


@contextmanager
def made_aside(path: Path) -> Iterator[Path]:
    """Give an empty ledger elsewhere, to be filled; it is put in its place when the block ends well.

    Raises: FileExistsError (somebody else was faster: theirs stands), OSError, sqlite3.DatabaseError.
    """
    with tempfile.TemporaryDirectory(prefix="nonna-") as elsewhere:
        fresh = Path(elsewhere) / path.name
        with closing(connect(fresh, write=True)) as connection, connection:
            create(connection)
        yield fresh
        path.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(prefix=".nonna-", dir=path.parent) as folder:
            beside = Path(folder) / path.name
            shutil.copyfile(fresh, beside)
            try:
                os.link(beside, path)  # never over one that is there
            except FileExistsError:
                raise
            except OSError:  # a file system without hard links
                if path.exists():
                    raise FileExistsError(path) from None
                beside.replace(path)


def must_be_writable(path: Path) -> None:
    """Refuse a ledger that nothing can be added to, before it is said how much was. Raises: NonnaError
    ``unreadable``.
    """
    if not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
        words = "{name} cannot be written: the file or its folder is read-only. Nothing was taken in."
        raise NonnaError("unreadable", words, "ledger", name=path.name)


def must_be_ours(path: Path, connection: sqlite3.Connection) -> None:
    """Refuse a file that is no ledger before anything is written into it.

    Raises: NonnaError ``unreadable``, sqlite3.DatabaseError (it is no database at all).
    """
    rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
    names = {str(row[0]) for row in rows}
    if not {"records", "alembic_version"} <= names and names != {"records"}:
        if "alembic_version" in names and "sqlite_sequence" in names:
            words = "{name}: its table of records is gone. Fetch a copy."
            raise NonnaError("unreadable", words, "ledger", name=path.name)
        words = "{name} is a database, but no ledger of ours: it is not touched."
        raise NonnaError("unreadable", words, "ledger", name=path.name)


def must_hold_something(path: Path) -> None:
    """Raises: NonnaError ``unreadable`` (the file is empty), OSError."""
    if path.stat().st_size == 0:
        words = "{name} is empty: it was cut off, or never was a ledger. Nothing is written into it."
        raise NonnaError("unreadable", words, "ledger", name=path.name)


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
