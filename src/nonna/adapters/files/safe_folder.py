"""Write a folder whole or not at all."""

from __future__ import annotations

import re
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path

_BEGUN, STALE_S = ".nonna-new-", 3600.0  #: what a folder is called while it is filled; nobody fills one for so long


def is_taken(target: Path) -> bool:
    """Whether something is there that a new folder would be written over. Raises: OSError."""
    return target.exists() and (not target.is_dir() or any(target.iterdir()))


def clear_leftovers(folder: Path, now: datetime) -> None:
    """Take away what a run that was killed began to fill here, once nobody can be at it any more. Raises: OSError."""
    for begun in folder.glob(f"{_BEGUN}*"):
        if begun.is_dir() and not begun.is_symlink() and now.timestamp() - begun.stat().st_mtime > STALE_S:
            shutil.rmtree(begun)


def why(error: Exception) -> str:
    """Return in one line why files could not be written; the library tells of many at once."""
    if isinstance(error, shutil.Error) and error.args and isinstance(error.args[0], list) and error.args[0]:
        first, *more = error.args[0]
        text = str(first[2] if isinstance(first, tuple) else first)
        said = re.sub(r"^\[Errno \d+\] ", "", text).partition(": '")[0]
        return f"{said} ({len(more) + 1} files)" if more else said
    return getattr(error, "strerror", None) or str(error)


@contextmanager
def made_whole(target: Path, *, like: Path | None = None) -> Iterator[Path]:
    """Give a folder beside ``target`` to be filled, and move it there in one step; nothing is left where that fails.

    Parameters: target, missing or empty, see `is_taken`; its parent is there. like, a folder whose mode it takes.
    Raises: OSError.
    """
    beside = Path(tempfile.mkdtemp(prefix=_BEGUN, dir=target.parent))
    try:
        yield beside
        beside.chmod(like.stat().st_mode & 0o777 if like is not None else 0o755)
        if target.exists():
            target.rmdir()
        beside.rename(target)
    except BaseException:
        shutil.rmtree(beside, ignore_errors=True)
        raise
