"""One line on stderr for a person, whatever their terminal can show."""

from __future__ import annotations

import sys


def warn(words: str) -> None:
    """Say something beside the answer."""
    line = f"nonna: {words}".replace(" → ", " -> ")
    print(line.encode("ascii", "backslashreplace").decode(), file=sys.stderr)
