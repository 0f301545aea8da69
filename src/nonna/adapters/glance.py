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

from nonna.adapters.marks import ledger_marks
from nonna.adapters.sqlite_file import connect
from nonna.bench.record import Record, checked
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


NEIGHBOURS, MOST_NEIGHBOURS = 24, 400  #: read along, for whoever looks for a result goes backwards


_Row = tuple[int, str, bytes]  # number, hash, body


class Reader:
    """Reads whole records by number, each once and checked against its hash; several threads may ask."""

    def __init__(self, ledger: Path) -> None:
        self._ledger = ledger
        self._marks = ledger_marks(ledger)
        self._rows: dict[int, _Row] = {}  #: as they stand in the file
        self._seen: dict[int, tuple[_Row, Record]] = {}  #: rows that were checked, and what they hold
        self._reach = NEIGHBOURS

    def __call__(self, number: int) -> Record:
        """Return a record. Raises: NonnaError ``unreadable`` naming a damaged record."""
        row = self._rows.get(number) or self._fetched(number)
        seen = self._seen.get(number)
        if seen is None or seen[0] != row:
            seen = self._seen[number] = (row, checked(*row))
        return seen[1]

    def look_again(self) -> Reader:
        """Read afresh where the file changed; what stands there as before need not be checked once more."""
        marks = ledger_marks(self._ledger)
        if marks != self._marks:
            self._marks, self._rows = marks, {}
        return self

    def read_ahead(self, newest: int) -> None:
        """Read the newest records from the file before somebody waits for them. Raises: as when one is asked for."""
        if newest not in self._rows:
            self._reach = MOST_NEIGHBOURS
            self._fetched(newest)

    def _fetched(self, number: int) -> _Row:
        try:
            if number in self._seen:  # the file changed since: those that were wanted before, all at once
                rows = self._fetch(*tuple(self._seen))
            else:  # opening costs more than reading some neighbours
                rows = self._fetch(*range(number - self._reach, number + 1))
                self._reach = min(2 * self._reach, MOST_NEIGHBOURS)
        except sqlite3.DatabaseError:
            try:
                rows = self._fetch(number)  # a damaged neighbour is not this one's fault
            except sqlite3.DatabaseError as error:
                words = "{name}: record {number} cannot be read: {error}."
                raise NonnaError("unreadable", words, name=self._ledger.name, number=number, error=error) from error
        self._rows.update(rows)
        if number not in rows:
            raise NonnaError(
                "unreadable", "{name}: record {number} is gone.", "record", name=self._ledger.name, number=number
            )
        return rows[number]

    def _fetch(self, *numbers: int) -> dict[int, _Row]:
        query = "SELECT number, hash, body FROM records WHERE number IN (SELECT value FROM json_each(?))"
        with closing(connect(self._ledger)) as connection:
            return {row[0]: row for row in connection.execute(query, (json.dumps(numbers),))}
