"""What time it is, and a number no run had before: asked here alone, so that both can be set."""

from __future__ import annotations

import time
from datetime import datetime


def now() -> datetime:
    """Return the time with its zone."""
    return datetime.now().astimezone()


def stamp() -> str:
    """Return the time as a tape has it."""
    return now().isoformat(timespec="seconds")


def run_number() -> int:
    """Return a number for a run's scatter that no run of the last weeks had."""
    return time.time_ns() // 1_000_000 % 2**31
