"""The ledger at a glance: what its records say of themselves, read with nothing but the standard library.

Each row is taken from the signed text, whose hash and place in the chain are checked; the columns beside it only find
rows. The first picture of the desk must show true link states before anything slow is imported.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any

from nonna.adapters.sqlite_file import connect
from nonna.bench.canonical import FIRST_PREVIOUS, digest
from nonna.bench.record import DamagedRecordError
from nonna.errors import NonnaError
from nonna.shop.history import MASTER_EVENT, Entry
from nonna.shop.subjects import Subject, SubjectKind, master

_FIELDS = (
    "number", "kind", "name", "machine", "subject", "verdict", "signed_at", "operator", "value_mm", "expanded_mm",
    "refers_to", "note", "invented",
)  # fmt: skip
_PATHS = ", ".join(f"'$.{path}'" for path in (*_FIELDS, "previous", "order[0][0]"))
_QUERY = (
    f"SELECT number, hash, body, CASE WHEN json_valid(body) THEN json_extract(body, {_PATHS}) END FROM records "
    "WHERE number BETWEEN ? AND ? ORDER BY number"
)
Row = tuple[Any, ...]  #: number and hash, as the file has them
AT_ONCE = 500  #: records whose text is held at once
LEARNED_FROM, LEARNED_LEAST = 7, 3
SHORTEST_MIN, LONGEST_MIN = 0.5, 90.0
_MAIN = {"setter-calibration": "trigger_plane_mm", "breakage": "change_mm"}  # the others always hold theirs


def entries(ledger: Path, known: dict[Row, Entry] | None = None) -> tuple[Entry, ...]:
    """Return one row a record, oldest first; nothing when there is no ledger yet.

    Parameters: known, rows that were read and checked before, by number and hash; new ones are added to it.
    Raises: NonnaError ``unreadable`` (not a ledger), DamagedRecordError (a record is not what was signed, or is gone).
    """
    if not ledger.is_file():
        return ()
    if ledger.stat().st_size == 0:
        raise NonnaError("unreadable", "{name} is empty: it was cut off. Fetch a copy.", "ledger", name=ledger.name)
    seen = {} if known is None else known
    try:
        with closing(connect(ledger)) as connection:
            rows = connection.execute("SELECT number, hash FROM records ORDER BY number").fetchall()
            _unbroken(rows)
            new = [number for number, hash_ in rows if (number, hash_) not in seen]
            if new:
                before = dict(rows)
                for row, entry in _read(connection, new[0], new[-1], before):
                    seen[row] = entry
        return tuple(seen[row] for row in rows)
    except DamagedRecordError:
        raise
    except (sqlite3.DatabaseError, ValueError, TypeError, KeyError) as error:
        raise NonnaError(
            "unreadable", "{name} is damaged or not a ledger: {error}.", name=ledger.name, error=error
        ) from error


def _unbroken(rows: list[Row]) -> None:
    """Raises: DamagedRecordError (a record is gone)."""
    for expected, (number, _) in enumerate(rows, 1):
        if number != expected:
            raise DamagedRecordError(expected, "it is gone")


def _read(connection: sqlite3.Connection, first: int, last: int, hashes: dict[int, str]) -> Iterator[tuple[Row, Entry]]:
    """Give rows from the text that was signed. Raises: DamagedRecordError, ValueError, TypeError."""
    for begin in range(first, last + 1, AT_ONCE):
        for number, hash_, text, said in connection.execute(_QUERY, (begin, min(begin + AT_ONCE - 1, last))):
            if not isinstance(text, str) or digest(text) != hash_:
                raise DamagedRecordError(number, "its text does not match its hash")
            if said is None:
                raise DamagedRecordError(number, "its text is not a record")
            *values, previous, first_result = json.loads(said)
            if values[0] != number:
                raise DamagedRecordError(number, "its number does not match its text")
            if previous != (hashes[number - 1] if number > 1 else FIRST_PREVIOUS):
                raise DamagedRecordError(number, "it does not follow the record before it")
            yield (number, hash_), _entry(dict(zip(_FIELDS, values, strict=True)), first_result)


def _entry(found: dict[str, Any], first_result: object) -> Entry:
    """Return one row; raises ValueError or TypeError where a field holds something else than it should."""
    invented = found.pop("invented") is True
    for name, value in found.items():
        wanted = _KINDS.get(name, str)
        if value is None and name in _MAY_LACK:
            continue
        if not isinstance(value, wanted) or isinstance(value, bool):
            raise TypeError(f"record {found['number']}: its {name} is not what it should be")
    main = _MAIN.get(found["name"])
    if found["kind"] == "measurement" and main is not None and first_result != main:
        found["value_mm"] = None  # older records were looked up by whatever result came first: such a value is none
    subject = Subject.of(found["subject"])
    if found["kind"] == "event" and found["name"].startswith(MASTER_EVENT) and subject.kind is SubjectKind.OTHER:
        subject = master(found["subject"])  # older records name a master by its id alone
    return Entry(
        **found | {"signed_at": datetime.fromisoformat(found["signed_at"]), "subject": subject, "invented": invented}
    )


_KINDS: dict[str, Any] = {"number": int, "refers_to": int, "value_mm": (float, int), "expanded_mm": (float, int)}
_MAY_LACK = ("value_mm", "expanded_mm", "refers_to")


def minutes(ledger: Path, machine: str) -> dict[str, float]:
    """Return the technician's own minutes by procedure: from first reading to signing, median of the last few.

    Only procedures with at least three records that took time count. Raises: NonnaError ``unreadable``.
    """
    if not ledger.is_file():
        return {}
    query = (
        "SELECT json_extract(body, '$.machine', '$.name', '$.signed_at', '$.tape[0].at') FROM records "
        "WHERE kind = 'measurement' AND machine = ? ORDER BY number DESC LIMIT 400"
    )
    spans: dict[str, list[float]] = {}
    try:
        with closing(connect(ledger)) as connection:
            for (said,) in connection.execute(query, (machine,)):
                of, name, signed, first = json.loads(said)
                if of == machine and first and len(spans.setdefault(name, [])) < LEARNED_FROM:
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
