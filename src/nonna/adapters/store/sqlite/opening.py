"""The one way to open a ledger's file: text kept byte for byte, and a read-only copy readable too."""

from __future__ import annotations

import os
import shutil
import sqlite3
import string
import tempfile
from pathlib import Path

BUSY_SECONDS = 20.0
_PLAIN = frozenset(string.ascii_letters + string.digits + "/._-~")


def connect(path: Path, *, write: bool = False) -> sqlite3.Connection:
    """Open a ledger's file; without ``write`` nothing about it or its folder is changed.

    Text that is not UTF-8 comes back with its odd bytes escaped, so that a hash of it is a hash of what is stored.
    Raises: sqlite3.DatabaseError, OSError (it cannot be opened, or is not there).
    """
    address = _address(path)
    if write:
        connection = sqlite3.connect(f"{address}?mode=rwc", uri=True, timeout=BUSY_SECONDS, check_same_thread=False)
    elif os.access(path.parent, os.W_OK):
        connection = sqlite3.connect(f"{address}?mode=ro", uri=True, timeout=BUSY_SECONDS, check_same_thread=False)
    else:
        connection = _still(path, address)
    connection.text_factory = as_stored
    return connection


def as_stored(data: bytes) -> str:
    """Return text with bytes that are no UTF-8 escaped."""
    return data.decode("utf-8", "surrogateescape")


def _still(path: Path, address: str) -> sqlite3.Connection:
    """Open a file in a folder that cannot be written: as it stands, or a copy with what its log still holds."""
    log = path.with_name(f"{path.name}-wal")
    if not (log.is_file() and log.stat().st_size):
        return sqlite3.connect(f"{address}?mode=ro&immutable=1", uri=True, check_same_thread=False)
    with tempfile.TemporaryDirectory(prefix="nonna-") as folder:
        copy = Path(folder) / path.name
        shutil.copy(path, copy)
        shutil.copy(log, copy.with_name(f"{copy.name}-wal"))
        on_disk = sqlite3.connect(copy)
        memory = sqlite3.connect(":memory:", check_same_thread=False)
        on_disk.backup(memory)
        on_disk.close()
    return memory


def _address(path: Path) -> str:
    return "file:" + "".join(chr(b) if chr(b) in _PLAIN else f"%{b:02X}" for b in os.fsencode(path.absolute()))
