"""Write a file whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from nonna.metrology.errors import NonnaError


def write_text(path: Path, text: str) -> None:
    """Replace a file by new text in one step; a reader sees the old or the new one, never a half.

    Raises: NonnaError ``unreadable`` (it cannot be written, with the reason).
    """
    try:
        handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        try:
            with os.fdopen(handle, "w", encoding="utf-8") as file:
                file.write(text)
                file.flush()
                os.fsync(file.fileno())
            Path(name).replace(path)
        except OSError:
            Path(name).unlink(missing_ok=True)
            raise
    except OSError as error:
        raise NonnaError("unreadable", f"{path.name} was not written: {error.strerror}.") from error
