"""The stored shape of the ledger, as SQLAlchemy sees it; changes are Alembic migrations."""

from __future__ import annotations

from sqlalchemy import Column, Connection, Float, Integer, MetaData, String, Table, Text

HEAD = "0002"  #: the newest migration
VERSIONS = ("0001", "0002")  #: every shape there ever was
_NEVER = "BEGIN SELECT RAISE(ABORT, 'records are never changed; sign a superseding one'); END"
_FIRST = {
    f"records_no_{verb.lower()}": f"CREATE TRIGGER records_no_{verb.lower()} BEFORE {verb} ON records {_NEVER}"
    for verb in ("UPDATE", "DELETE")
}
_NO_REPLACE = (
    "CREATE TRIGGER records_no_replace BEFORE INSERT ON records "
    "WHEN EXISTS (SELECT 1 FROM records WHERE number = NEW.number OR hash = NEW.hash OR previous = NEW.previous) "
    f"{_NEVER}"
)
TRIGGERS = {"0001": _FIRST, "0002": {**_FIRST, "records_no_replace": _NO_REPLACE}}  #: of SQLite, by shape

metadata = MetaData()
records = Table(
    "records",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=True),
    Column("hash", String(64), nullable=False, unique=True),
    Column("previous", String(64), nullable=False, unique=True),
    Column("signed_at", String(40), nullable=False),
    Column("kind", String(20), nullable=False),
    Column("name", String(40), nullable=False),
    Column("machine", String(80), nullable=False),
    Column("subject", String(80), nullable=False),
    Column("verdict", String(12), nullable=False),
    Column("operator", String(80), nullable=False),
    Column("value_mm", Float),
    Column("expanded_mm", Float),
    Column("refers_to", Integer),
    Column("note", Text, nullable=False, server_default=""),
    Column("body", Text, nullable=False),
    sqlite_autoincrement=True,
)
"""One row a record: ``body`` is the record, canonical JSON; the other columns repeat parts of it to look up by."""


def create(connection: Connection) -> None:
    """Make an empty ledger in the newest shape, as all migrations one after the other would, without Alembic."""
    metadata.create_all(connection)
    if connection.dialect.name == "sqlite":
        for trigger in TRIGGERS[HEAD].values():
            connection.exec_driver_sql(trigger)
    connection.exec_driver_sql(
        "CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL, "
        "CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num))"
    )
    connection.exec_driver_sql(f"INSERT INTO alembic_version (version_num) VALUES ('{HEAD}')")
