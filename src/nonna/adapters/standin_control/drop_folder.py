"""A folder into which programs are dropped: each is taken once, when it is whole."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

LARGEST = 20_000_000  #: bytes of a program


class _Seen(NamedTuple):
    changed_ns: int
    size: int


class DropFolder:
    """Looks again and again for programs that were not there before."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._taken: dict[str, _Seen] = dict(self._files())
        self._growing: dict[str, _Seen] = {}

    def look(self) -> Path | None:
        """Return the next program that is new or changed and stood still since the last look; None where none is."""
        now = dict(self._files())
        ready = [
            name
            for name, seen in now.items()
            if self._taken.get(name) != seen and self._growing.get(name) == seen and seen.size <= LARGEST
        ]
        self._growing = now
        if not ready:
            return None
        name = min(ready, key=lambda each: (now[each].changed_ns, each))
        self._taken[name] = now[name]
        return self._folder / name

    def _files(self) -> list[tuple[str, _Seen]]:
        """Return the files of the folder; those still being written bear a dot or an ending that says so."""
        found = []
        for path in self._folder.iterdir():
            if path.name.startswith(".") or path.suffix in (".tmp", ".part"):
                continue
            try:
                stat = path.stat()
            except OSError:
                continue  # it was taken away meanwhile
            if path.is_file():
                found.append((path.name, _Seen(stat.st_mtime_ns, stat.st_size)))
        return found
