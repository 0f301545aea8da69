"""Read a file whole, or say in words why not."""

from __future__ import annotations

from pathlib import Path

from nonna.errors import NonnaError
from nonna.shop.texts import strict_json


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes. Raises: NonnaError ``unreadable`` or ``too-large``, in words a person can use."""
    try:
        if path.is_file() and path.stat().st_size > strict_json.MAX_BYTES:
            raise NonnaError("too-large", "{name} is over 50 MB; no file of ours is.", name=path.name)
        return path.read_bytes()
    except NonnaError:
        raise
    except FileNotFoundError:
        raise NonnaError("unreadable", "There is no file {name!r} there.", name=path.name) from None
    except IsADirectoryError:
        raise NonnaError("unreadable", "{name!r} is a folder, not a file.", name=path.name) from None
    except (OSError, ValueError) as error:
        words = error.strerror if isinstance(error, OSError) else "not a file name"
        raise NonnaError("unreadable", "{name!r} cannot be read: {words}.", name=path.name, words=words) from error
