"""Tapes of unsigned sheets on the disk: each open sheet has a file of its own and holds its lock."""

from __future__ import annotations

import fcntl
import os
import re
from pathlib import Path

from nonna.adapters.files.reading import read_bytes
from nonna.adapters.files.safe_write import write_text
from nonna.errors import NonnaError
from nonna.shop.links.subjects import Subject
from nonna.shop.texts import strict_json
from nonna.shop.texts.given import Given

FOLDER = "drafts"
MOST_AT_ONCE = 50  #: windows on one sheet of one shop


class DraftFile:
    """Fills the port `bench.ports.DraftPlace`."""

    def __init__(self, root: Path, station: str, procedure: str, subject: Subject) -> None:
        self.path, self._lock = _own_place(path_of(root, station, procedure, subject))

    @property
    def held(self) -> bool:
        """Whether it may be written: not where the folder cannot be, and not once it was let go."""
        return self._lock >= 0

    def read(self) -> Given | None:
        """Return what was left here, None where nothing was. Raises: NonnaError."""
        if not self.path.exists():
            return None
        return strict_json.loads_object(read_bytes(self.path))

    def write(self, text: str) -> None:
        """Keep a tape; when this returns the disk has it. Raises: NonnaError."""
        try:
            self.path.parent.mkdir(exist_ok=True)
        except OSError as error:
            raise NonnaError(
                "unreadable", "{name}: {strerror}.", name=self.path.parent.name, strerror=error.strerror
            ) from error
        write_text(self.path, text)

    def forget(self) -> None:
        """Throw it away."""
        self.path.unlink(missing_ok=True)

    def let_go(self) -> None:
        """Leave what is kept to whoever opens the sheet next."""
        if self._lock < 0:
            return
        os.close(self._lock)
        self._lock = -1
        if not self.path.exists():
            _lock_of(self.path).unlink(missing_ok=True)


def left_in(root: Path) -> tuple[tuple[str, Given | None], ...]:
    """Return the tapes that nobody has in hand, each with its file's name; None for one that cannot be read."""
    found: list[tuple[str, Given | None]] = []
    for path in sorted((root / FOLDER).glob("*.json")):
        if not _is_held(path):
            try:
                found.append((path.name, strict_json.loads_object(read_bytes(path))))
            except NonnaError:
                found.append((path.name, None))
    return tuple(found)


def path_of(root: Path, station: str, procedure: str, subject: Subject) -> Path:
    """Return where the draft of a sheet lies: readable, and its own for every name."""
    whole = f"{station}\n{procedure}\n{subject}"
    words = re.sub(r"[^a-z0-9]+", "-", f"{station} {procedure} {subject}".lower()).strip("-")[:60]
    import hashlib  # late: it loads a library of its own, and the first picture needs no draft

    return root / FOLDER / f"{words}-{hashlib.sha256(whole.encode('utf-8', 'surrogateescape')).hexdigest()[:8]}.json"


def _lock_of(path: Path) -> Path:
    return path.with_suffix(".lock")


def _own_place(first: Path) -> tuple[Path, int]:
    """Return the first place that nobody else holds, and the handle that holds it (-1: the folder cannot be
    written).
    """
    try:
        first.parent.mkdir(parents=True, exist_ok=True)
        for number in range(MOST_AT_ONCE):
            path = first.with_name(f"{first.stem}{f'-{number + 1}' if number else ''}.json")
            handle = os.open(_lock_of(path), os.O_CREAT | os.O_RDWR, 0o666)
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                os.close(handle)
                continue
            if not _is_at(handle, _lock_of(path)):  # whoever held it took it away with him in between
                os.close(handle)
                return _own_place(first)
            return path, handle
    except OSError:
        return first, -1
    return first, -1


def _is_at(handle: int, path: Path) -> bool:
    """Whether an open file is still the one of that name."""
    try:
        return os.path.samestat(os.fstat(handle), path.stat())
    except OSError:
        return False


def _is_held(path: Path) -> bool:
    try:
        handle = os.open(_lock_of(path), os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False
