"""The ledger at a glance: its look-up columns, read with nothing but the standard library.

The first picture of the desk must show true link states before anything slow is imported.
"""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.shop.history import Entry

_COLUMNS = (
    "number", "kind", "name", "machine", "subject", "verdict", "signed_at", "operator", "value_mm", "expanded_mm",
    "refers_to", "note",
)  # fmt: skip
LEARNED_FROM, LEARNED_LEAST = 7, 3
SHORTEST_MIN, LONGEST_MIN = 0.5, 90.0
_QUERY = f"SELECT {', '.join(_COLUMNS)} FROM records ORDER BY number"


def entries(ledger: Path) -> tuple[Entry, ...]:
    """Return one row a record, oldest first; nothing when there is no ledger yet.

    Raises: NonnaError ``unreadable`` (damaged, or not a ledger).
    """
    if not ledger.is_file():
        return ()
    try:
        with closing(sqlite3.connect(ledger, timeout=5)) as connection:
            rows = connection.execute(_QUERY).fetchall()
            return tuple(
                Entry(**dict(zip(_COLUMNS, row, strict=True)) | {"signed_at": datetime.fromisoformat(row[6])})
                for row in rows
            )
    except (sqlite3.DatabaseError, ValueError) as error:
        raise NonnaError("unreadable", f"{ledger.name} is damaged or not a ledger: {error}.") from error


def minutes(ledger: Path, machine: str) -> dict[str, float]:
    """Return the technician's own minutes by procedure: from first reading to signing, median of the last few.

    Only procedures with at least three records that took time count. Raises: NonnaError ``unreadable``.
    """
    if not ledger.is_file():
        return {}
    query = (
        "SELECT name, signed_at, json_extract(body, '$.tape[0].at') FROM records "
        "WHERE kind = 'measurement' AND machine = ? ORDER BY number DESC LIMIT 400"
    )
    spans: dict[str, list[float]] = {}
    try:
        with closing(sqlite3.connect(ledger, timeout=5)) as connection:
            for name, signed, first in connection.execute(query, (machine,)):
                if first and len(spans.setdefault(name, [])) < LEARNED_FROM:
                    span = (datetime.fromisoformat(signed) - datetime.fromisoformat(first)).total_seconds() / 60.0
                    if SHORTEST_MIN <= span <= LONGEST_MIN:  # else it was practice, or lunch
                        spans[name].append(span)
    except (sqlite3.DatabaseError, ValueError) as error:
        raise NonnaError("unreadable", f"{ledger.name} is damaged or not a ledger: {error}.") from error
    return {name: sorted(found)[len(found) // 2] for name, found in spans.items() if len(found) >= LEARNED_LEAST}


def influences(ledger: Path, number: int) -> dict[str, list[dict[str, Any]]]:
    """Return the sources of uncertainty of one record, by result. Raises: NonnaError ``unreadable``."""
    try:
        with closing(sqlite3.connect(ledger, timeout=5)) as connection:
            row = connection.execute("SELECT body FROM records WHERE number = ?", (number,)).fetchone()
        body = json.loads(row[0])
        return dict(body.get("influences", {}))
    except (sqlite3.DatabaseError, ValueError, TypeError) as error:
        raise NonnaError("unreadable", f"{ledger.name}: record {number} cannot be read: {error}.") from error
