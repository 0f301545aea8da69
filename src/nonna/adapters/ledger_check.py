"""Whether a ledger is what was signed: its chain, its columns, what its records say of themselves, and its file."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection

from nonna.adapters.schema import TRIGGERS, VERSIONS
from nonna.bench.canonical import FIRST_PREVIOUS
from nonna.bench.record import REPEATED, ChainCheck, DamagedRecordError, checked
from nonna.bench.record_body import contradiction

CLOCKS_APART = timedelta(days=1)  #: two computers' clocks are never further apart; a record before that is back-dated
FAR_AHEAD = timedelta(days=366)  #: a year without a record is seldom, a clock that lost its year is not
_COLUMNS = tuple(dict.fromkeys(("number", "hash", "previous", "body", *REPEATED)))


def verified(connection: Connection) -> ChainCheck:
    """Check a ledger from its first record to its last; the first thing that is wrong is named."""
    if not sa.inspect(connection).has_table("records"):
        return ChainCheck(False, 0, 1, "the table of records is gone")
    previous, count = FIRST_PREVIOUS, 0
    before: datetime | None = None
    for values in connection.exec_driver_sql(f"SELECT {', '.join(_COLUMNS)} FROM records ORDER BY number"):
        row = dict(zip(_COLUMNS, values, strict=True))
        reason, at = _damage(row, previous, count + 1, before)
        if reason:
            return ChainCheck(False, count, count + 1, reason)
        previous, count, before = row["hash"], count + 1, at
    highest = highest_ever(connection)
    if highest is not None and highest > count:
        return ChainCheck(False, count, count + 1, f"record {count + 1} is gone; {highest} were signed")
    reason = _file_damage(connection)
    return ChainCheck(not reason, count, None, reason)


def version_of(connection: Connection) -> str | None:
    """Return the shape a database says it has, None where it says nothing."""
    if not sa.inspect(connection).has_table("alembic_version"):
        return None
    row = connection.exec_driver_sql("SELECT version_num FROM alembic_version").first()
    return str(row[0]) if row else None


def highest_ever(connection: Connection) -> int | None:
    """Return the highest number ever given out, which SQLite remembers even when rows are gone."""
    if connection.dialect.name != "sqlite":
        return None
    row = connection.exec_driver_sql("SELECT seq FROM sqlite_sequence WHERE name = 'records'").first()
    return row[0] if row and isinstance(row[0], int) else None


def _damage(
    row: Mapping[str, Any], previous: str, expected: int, before: datetime | None
) -> tuple[str, datetime | None]:
    """Say what is wrong with a row, "" when it is sound; and when it was signed."""
    if row["number"] != expected:
        return f"record {expected} is gone", None
    try:
        record = checked(row["number"], row["hash"], row["body"])
    except DamagedRecordError as error:
        return error.reason, None
    body = record.body
    if row["previous"] != previous or body.get("previous") != previous:
        return "it does not follow the record before it", None
    for name in REPEATED:
        value = body.get(name)
        if name not in body or type(value) is bool or value != row[name]:
            return f"its column {name} does not match its text", None
    try:
        at = datetime.fromisoformat(body["signed_at"])
        late = before is not None and at < before - CLOCKS_APART and "clock" not in body
    except (TypeError, ValueError):
        return "its date is none", None
    if late:
        return "it is dated over a day before the record it follows, and nobody said why", at
    return contradiction(record), at


def _file_damage(connection: Connection) -> str:
    """Say what is wrong with a file whose records are all sound, "" where nothing is."""
    version = version_of(connection)
    if version not in VERSIONS:
        return f"its shape ({version!r}) is none of ours: something else wrote into the file"
    if connection.dialect.name != "sqlite":
        return ""
    rows = connection.exec_driver_sql("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").all()
    there = {name: " ".join((sql or "").split()) for name, sql in rows}
    gone = [name for name, sql in TRIGGERS[version].items() if there.get(name) != sql]
    return f"what keeps records from being changed is gone from the file ({', '.join(gone)})" if gone else ""
