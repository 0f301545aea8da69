"""Write a folder whole or not at all."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


def is_taken(target: Path) -> bool:
    """Whether something is there that a new folder would be written over. Raises: OSError."""
    return target.exists() and (not target.is_dir() or any(target.iterdir()))


@contextmanager
def made_whole(target: Path) -> Iterator[Path]:
    """Give a folder beside ``target`` to be filled, and move it there in one step; nothing is left where that fails.

    Parameters: target, missing or empty, see `is_taken`; its parent is there. Raises: OSError.
    """
    beside = Path(tempfile.mkdtemp(prefix=".nonna-new-", dir=target.parent))
    try:
        yield beside
        beside.chmod(0o755)
        if target.exists():
            target.rmdir()
        beside.rename(target)
    except BaseException:
        shutil.rmtree(beside, ignore_errors=True)
        raise
