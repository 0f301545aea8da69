"""The shapes of the file, oldest first, and how one becomes the next.

One row a record: ``body`` is the record, canonical JSON; the other columns repeat parts of it and only find rows.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping

VERSIONS = ("0001", "0002")  #: every shape there ever was
HEAD = VERSIONS[-1]
REPEATED = (
    "signed_at",
    "kind",
    "name",
    "machine",
    "subject",
    "verdict",
    "operator",
    "value_mm",
    "expanded_mm",
    "refers_to",
    "note",
)  #: parts of a record that stand in columns of their own
_NEVER = "BEGIN SELECT RAISE(ABORT, 'records are never changed; sign a superseding one'); END"
_TABLE = """CREATE TABLE records (
    number INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
    hash VARCHAR(64) NOT NULL UNIQUE,
    previous VARCHAR(64) NOT NULL UNIQUE,
    signed_at VARCHAR(40) NOT NULL,
    kind VARCHAR(20) NOT NULL,
    name VARCHAR(40) NOT NULL,
    machine VARCHAR(80) NOT NULL,
    subject VARCHAR(80) NOT NULL,
    verdict VARCHAR(12) NOT NULL,
    operator VARCHAR(80) NOT NULL,
    value_mm FLOAT,
    expanded_mm FLOAT,
    refers_to INTEGER,
    note TEXT DEFAULT '' NOT NULL,
    body TEXT NOT NULL
)"""
_FIRST = {
    f"records_no_{verb.lower()}": f"CREATE TRIGGER records_no_{verb.lower()} BEFORE {verb} ON records {_NEVER}"
    for verb in ("UPDATE", "DELETE")
}
_NO_REPLACE = (  #: SQLite's REPLACE asks no trigger that refuses changes
    "CREATE TRIGGER records_no_replace BEFORE INSERT ON records "
    "WHEN EXISTS (SELECT 1 FROM records WHERE number = NEW.number OR hash = NEW.hash OR previous = NEW.previous) "
    f"{_NEVER}"
)
TRIGGERS: Mapping[str, Mapping[str, str]] = {  #: that keep records from being changed, by shape
    "0001": _FIRST,
    "0002": {**_FIRST, "records_no_replace": _NO_REPLACE},
}
_STEPS = {"0001": (_TABLE, *_FIRST.values()), "0002": (_NO_REPLACE,)}  #: that make a shape of the one before


def version_of(connection: sqlite3.Connection) -> str | None:
    """Return the shape a file says it has, None where it says nothing."""
    if not has_table(connection, "alembic_version"):  # so called by what wrote it at first
        return None
    row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    return str(row[0]) if row else None


def has_table(connection: sqlite3.Connection, name: str) -> bool:
    """Whether a file has a table."""
    return bool(connection.execute("SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = ?", (name,)).fetchone())


def create(connection: sqlite3.Connection) -> None:
    """Make an empty ledger in the newest shape."""
    connection.execute(
        "CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL, "
        "CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num))"
    )
    connection.execute("INSERT INTO alembic_version (version_num) VALUES ('')")
    upgrade(connection, "")


def upgrade(connection: sqlite3.Connection, version: str, to: str = HEAD) -> None:
    """Bring a file from one shape to a later one, step by step, in the caller's transaction."""
    behind = VERSIONS.index(version) + 1 if version else 0
    for step in VERSIONS[behind : VERSIONS.index(to) + 1]:
        for statement in _STEPS[step]:
            connection.execute(statement)
        connection.execute("UPDATE alembic_version SET version_num = ?", (step,))


def damage(connection: sqlite3.Connection) -> str:
    """Say what is wrong with a file beside its records, "" where nothing is."""
    version = version_of(connection)
    if version not in VERSIONS:
        return f"its shape ({version!r}) is none of ours: something else wrote into the file"
    rows = connection.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
    there = {name: " ".join((sql or "").split()) for name, sql in rows}
    gone = [name for name, sql in TRIGGERS[version].items() if there.get(name) != sql]
    return f"what keeps records from being changed is gone from the file ({', '.join(gone)})" if gone else ""
