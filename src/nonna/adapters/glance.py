"""The ledger at a glance: its look-up columns, read with nothing but the standard library.

The first picture of the desk must show true link states before anything slow is imported.
"""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

from nonna.adapters.sqlite_file import connect
from nonna.errors import NonnaError
from nonna.shop.history import MASTER_EVENT, Entry
from nonna.shop.subjects import Subject, SubjectKind, master

_COLUMNS = (
    "number", "kind", "name", "machine", "subject", "verdict", "signed_at", "operator", "value_mm", "expanded_mm",
    "refers_to", "note",
)  # fmt: skip
Row = tuple[Any, ...]
LEARNED_FROM, LEARNED_LEAST = 7, 3
SHORTEST_MIN, LONGEST_MIN = 0.5, 90.0
_MAIN = {"setter-calibration": "trigger_plane_mm", "breakage": "change_mm"}  # the others always hold theirs
_VALUE = (
    "CASE WHEN kind = 'measurement' AND name IN ({}) AND (NOT json_valid(body) OR json_extract(body, '$.order[0][0]') "
    "NOT IN ({})) THEN NULL ELSE value_mm END"
).format(*(", ".join(f"'{word}'" for word in words) for words in (_MAIN, _MAIN.values())))
"""Older records were looked up by whatever result came first: such a value is none."""
_QUERY = f"SELECT {', '.join(_VALUE if c == 'value_mm' else c for c in _COLUMNS)} FROM records ORDER BY number"


def entries(ledger: Path, known: dict[Row, Entry] | None = None) -> tuple[Entry, ...]:
    """Return one row a record, oldest first; nothing when there is no ledger yet.

    Parameters: known, rows that were worked out before, by what stands in the file; new ones are added to it.
    Raises: NonnaError ``unreadable`` (damaged, or not a ledger).
    """
    if not ledger.is_file():
        return ()
    if ledger.stat().st_size == 0:
        raise NonnaError("unreadable", "{name} is empty: it was cut off. Fetch a copy.", "ledger", name=ledger.name)
    try:
        with closing(connect(ledger)) as connection:
            rows = connection.execute(_QUERY).fetchall()
            seen = {} if known is None else known
            for row in rows:
                if row not in seen:
                    seen[row] = _entry(row)
            return tuple(seen[row] for row in rows)
    except (sqlite3.DatabaseError, ValueError, TypeError) as error:
        raise NonnaError(
            "unreadable", "{name} is damaged or not a ledger: {error}.", name=ledger.name, error=error
        ) from error


def _entry(row: Row) -> Entry:
    """Return one row; raises ValueError or TypeError where a column holds something else than it should."""
    found = dict(zip(_COLUMNS, row, strict=True))
    for name, value in found.items():
        wanted = _KINDS.get(name, str)
        if value is None and name in _MAY_LACK:
            continue
        if not isinstance(value, wanted) or isinstance(value, bool):
            raise TypeError(f"record {found['number']}: its column {name} is not what it should be")
    subject = Subject.of(found["subject"])
    if found["kind"] == "event" and found["name"].startswith(MASTER_EVENT) and subject.kind is SubjectKind.OTHER:
        subject = master(found["subject"])  # older records name a master by its id alone
    return Entry(**found | {"signed_at": datetime.fromisoformat(found["signed_at"]), "subject": subject})


_KINDS: dict[str, Any] = {"number": int, "refers_to": int, "value_mm": (float, int), "expanded_mm": (float, int)}
_MAY_LACK = ("value_mm", "expanded_mm", "refers_to")


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
        with closing(connect(ledger)) as connection:
            for name, signed, first in connection.execute(query, (machine,)):
                if first and len(spans.setdefault(name, [])) < LEARNED_FROM:
                    span = (datetime.fromisoformat(signed) - datetime.fromisoformat(first)).total_seconds() / 60.0
                    if SHORTEST_MIN <= span <= LONGEST_MIN:  # else it was practice, or lunch
                        spans[name].append(span)
    except (sqlite3.DatabaseError, ValueError, TypeError) as error:
        raise NonnaError(
            "unreadable", "{name} is damaged or not a ledger: {error}.", name=ledger.name, error=error
        ) from error
    return {name: sorted(found)[len(found) // 2] for name, found in spans.items() if len(found) >= LEARNED_LEAST}


def record_of_draft(ledger: Path, draft: str) -> int | None:
    """Return the record that came from a draft, None where it was not signed. Raises: NonnaError ``unreadable``."""
    if not draft or not ledger.is_file():
        return None
    query = "SELECT number FROM records WHERE kind = 'measurement' AND instr(body, ?) ORDER BY number DESC LIMIT 1"
    try:
        with closing(connect(ledger)) as connection:
            row = connection.execute(query, (f'"draft":"{draft}"',)).fetchone()
    except sqlite3.DatabaseError as error:
        raise NonnaError(
            "unreadable", "{name} is damaged or not a ledger: {error}.", name=ledger.name, error=error
        ) from error
    return int(row[0]) if row else None
