"""Whether a copy of a shop is what was copied: each file by the hash that its own mark has of it."""

from __future__ import annotations

import hashlib
from pathlib import Path

from nonna.errors import NonnaError
from nonna.shop.texts import strict_json

_PIECE = 1 << 20


def hashes(folder: Path) -> dict[str, str]:
    """Return the SHA-256 of every file in a folder, by its place in it. Raises: OSError."""
    files = sorted(
        path for path in folder.rglob("*") if path.is_file() and not path.is_symlink() and not _is_idle(path)
    )
    return {path.relative_to(folder).as_posix(): _hash(path) for path in files}


def prove(copy: Path, mark: str) -> None:
    """Hold a copy against its mark; one from before hashes were kept there is only looked into.

    Raises: NonnaError naming what is changed, missing, new or a link; OSError.
    """
    for path in copy.rglob("*"):
        if path.is_symlink():
            raise _refused("is a link: what it leads to is no part of the copy", path.relative_to(copy).as_posix())
    if not (copy / mark).is_file():
        return
    said = strict_json.loads((copy / mark).read_bytes())
    kept = said.get("files") if isinstance(said, dict) else None
    if kept is None:
        return
    there = {name: hash_ for name, hash_ in hashes(copy).items() if name != mark and not name.startswith(".")}
    for name in sorted({*kept, *there}):
        if name not in there:
            raise _refused("is missing", name)
        if name not in kept:
            raise _refused("was not in it when it was made", name)
        if there[name] != kept[name]:
            raise _refused("was changed since it was made", name)


def _is_idle(path: Path) -> bool:
    """Whether it is what a database leaves beside itself while it is only looked into."""
    return path.name.endswith("-shm") or (path.name.endswith("-wal") and path.stat().st_size == 0)


def _refused(what: str, file: str) -> NonnaError:
    words = "This copy is not what was copied: {file} {what}. Take another one."
    return NonnaError("unreadable", words, "copy", file=file, what=what)


def _hash(path: Path) -> str:
    found = hashlib.sha256()
    with path.open("rb") as file:
        while piece := file.read(_PIECE):
            found.update(piece)
    return found.hexdigest()
