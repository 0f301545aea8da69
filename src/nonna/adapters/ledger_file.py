"""A ledger's file: made whole in one step, and refused where it is not ours."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from nonna.adapters.sqlite_file import connect
from nonna.errors import NonnaError


def make(path: Path) -> None:
    """Make an empty ledger; where another process was faster, its stands. Raises: OSError, NonnaError."""
    from sqlalchemy import create_engine

    from nonna.adapters.schema import create

    with tempfile.TemporaryDirectory(prefix=".nonna-", dir=path.parent) as folder:
        fresh = Path(folder) / path.name
        engine = create_engine("sqlite://", creator=lambda: connect(fresh, write=True))
        with engine.begin() as connection:
            create(connection)
        engine.dispose()
        fresh.chmod(0o666 & ~_umask(Path(folder)))
        try:
            os.link(fresh, path)  # never over one that is there
        except FileExistsError:
            return
        except OSError:  # a file system without hard links
            if not path.exists():
                fresh.replace(path)


def put_in_place(fresh: Path, path: Path) -> None:
    """Put a ledger that was made elsewhere where there is none yet. Raises: NonnaError (there is one, or it cannot be)."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(prefix=".nonna-", dir=path.parent) as folder:
            beside = Path(folder) / path.name
            shutil.copy(fresh, beside)
            try:
                os.link(beside, path)  # never over one that is there
            except FileExistsError as error:
                words = "{name} was made by somebody else meanwhile: import once more."
                raise NonnaError("unreadable", words, "ledger", name=path.name) from error
            except OSError:  # a file system without hard links
                beside.replace(path)
    except OSError as error:
        words = "{name} cannot be written: {strerror}."
        raise NonnaError("unreadable", words, "ledger", name=path.name, strerror=error.strerror) from error


def must_be_writable(path: Path) -> None:
    """Refuse a ledger that nothing can be added to, before it is said how much was. Raises: NonnaError ``unreadable``."""
    if not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
        words = "{name} cannot be written: the file or its folder is read-only. Nothing was taken in."
        raise NonnaError("unreadable", words, "ledger", name=path.name)


def must_be_ours(path: Path) -> None:
    """Refuse a file that is no ledger before anything is written into it. Raises: NonnaError ``unreadable``."""
    if path.stat().st_size == 0:
        raise NonnaError(
            "unreadable",
            "{name} is empty: it was cut off, or never was a ledger. Nothing is written into it.",
            "ledger",
            name=path.name,
        )
    try:
        with closing(connect(path)) as connection:
            rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
    except sqlite3.OperationalError as error:
        raise NonnaError(
            "unreadable", "{name}: the database says: {error}.", "ledger", name=path.name, error=error
        ) from error
    except sqlite3.DatabaseError as error:
        raise NonnaError(
            "unreadable", "{name} is damaged or not a ledger: {error}.", "ledger", name=path.name, error=error
        ) from error
    names = {str(row[0]) for row in rows}
    if not {"records", "alembic_version"} <= names and names != {"records"}:
        if "alembic_version" in names and "sqlite_sequence" in names:
            raise NonnaError(
                "unreadable", "{name}: its table of records is gone. Fetch a copy.", "ledger", name=path.name
            )
        raise NonnaError(
            "unreadable", "{name} is a database, but no ledger of ours: it is not touched.", "ledger", name=path.name
        )


def _umask(folder: Path) -> int:
    """Return what new files of this process lack, found by making one: asking directly would change it for a moment."""
    probe = folder / "mode"
    os.close(os.open(probe, os.O_CREAT | os.O_WRONLY, 0o666))
    return 0o666 & ~probe.stat().st_mode
