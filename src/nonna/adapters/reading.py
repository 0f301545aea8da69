"""Read a file whole, or say in words why not."""

from __future__ import annotations

from pathlib import Path

from nonna.errors import NonnaError
from nonna.shop import strict_json


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes. Raises: NonnaError ``unreadable`` or ``too-large``, in words a person can use."""
    try:
        if path.is_file() and path.stat().st_size > strict_json.MAX_BYTES:
            raise NonnaError("too-large", f"{path.name} is over 50 MB; no file of ours is.")
        return path.read_bytes()
    except NonnaError:
        raise
    except FileNotFoundError:
        raise NonnaError("unreadable", f"There is no file {path.name!r} there.") from None
    except IsADirectoryError:
        raise NonnaError("unreadable", f"{path.name!r} is a folder, not a file.") from None
    except (OSError, ValueError) as error:
        words = error.strerror if isinstance(error, OSError) else "not a file name"
        raise NonnaError("unreadable", f"{path.name!r} cannot be read: {words}.") from error
