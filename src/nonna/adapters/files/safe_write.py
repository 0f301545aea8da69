"""Write a file whole or not at all."""

from __future__ import annotations

import os
import stat
from pathlib import Path

from nonna.errors import NonnaError


def write_text(path: Path, text: str) -> None:
    """Replace a file by new text in one step, as `write_bytes`."""
    write_bytes(path, text.encode("utf-8", "surrogateescape"))


def write_bytes(path: Path, data: bytes) -> None:
    """Replace a file in one step; a reader sees the old or the new one, never a half, and a full disk leaves the old.

    The mode is the old file's, or what the umask says. Raises: NonnaError ``unreadable`` (with the reason).
    """
    try:
        target = Path(os.path.realpath(path))  # a link stays a link
        old = target.stat() if target.exists() else None
        if old is not None and not stat.S_ISREG(old.st_mode):
            if stat.S_ISDIR(old.st_mode):
                raise IsADirectoryError(21, "it is a folder")
            with target.open("wb") as device:  # a pipe or a device is written as it is
                device.write(data)
            return
        beside = target.with_name(f".{target.name[:40]}.{os.urandom(6).hex()}")
        handle = os.open(beside, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o666)
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            if old is not None:
                beside.chmod(stat.S_IMODE(old.st_mode))
            beside.replace(target)
        except OSError:
            beside.unlink(missing_ok=True)
            raise
    except (OSError, ValueError) as error:
        words = error.strerror if isinstance(error, OSError) and error.strerror else "not a file name"
        raise NonnaError(
            "unreadable", "{name} was not written: {words}.", "output", name=path.name, words=words
        ) from error
