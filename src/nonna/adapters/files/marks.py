"""What tells that files changed, without reading them."""

from __future__ import annotations

import time
from pathlib import Path

SETTLES_S = 1.0  #: whoever wrote to a file that long ago is done with it


def ledger_marks(ledger: Path) -> tuple[int, ...]:
    """Return when a ledger was written to last; anything else means a change."""
    return marks_of(*_files(ledger))


def is_settled(ledger: Path) -> bool:
    """Whether a ledger was written to some time ago: it changes a moment before a commit can be read.

    Who looked in that moment has to look once more, later. A time in the future counts as long ago.
    """
    written = max(marks_of(path)[0] for path in _files(ledger))
    return not 0 <= time.time_ns() - written < SETTLES_S * 1e9


def _files(ledger: Path) -> tuple[Path, Path]:
    return ledger, ledger.with_name(f"{ledger.name}-wal")


def marks_of(*paths: Path) -> tuple[int, ...]:
    """Return when files were changed last; anything else means a change."""
    found: list[int] = []
    for path in paths:
        try:
            stat = path.stat()
            found += [stat.st_mtime_ns, stat.st_size, stat.st_ino]
        except (OSError, ValueError):
            found.append(0)
    return tuple(found)
