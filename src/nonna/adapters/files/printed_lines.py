"""What machines printed: a file that grows, or a folder of such files."""

from __future__ import annotations

from pathlib import Path

from nonna.adapters.files.reading import read_bytes
from nonna.errors import NonnaError

ENDINGS = (".log", ".txt", ".prn", ".out")
MOST_FILES = 50  #: of a folder, the newest


def printed_at(place: Path) -> str:
    """Return all that was printed there; each file by itself, so that a line cut at its end meets no other.

    Raises: NonnaError (it is not there, or cannot be read).
    """
    if not place.is_dir():
        return read_bytes(place).decode("utf-8", "replace")
    try:
        files = [path for path in place.iterdir() if path.suffix.lower() in ENDINGS and path.is_file()]
        files.sort(key=lambda path: path.stat().st_mtime_ns)
    except OSError as error:
        raise NonnaError(
            "unreadable", "{name} cannot be read: {words}.", "printed", name=place.name, words=error.strerror
        ) from error
    return "\n\n".join(read_bytes(path).decode("utf-8", "replace") for path in files[-MOST_FILES:])
