"""What tells that files changed, without reading them."""

from __future__ import annotations

from pathlib import Path


def ledger_marks(ledger: Path) -> tuple[int, ...]:
    """Return when a ledger was written to last; anything else means a change."""
    return marks_of(ledger, ledger.with_name(f"{ledger.name}-wal"))


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
