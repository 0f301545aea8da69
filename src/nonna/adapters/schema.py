"""The stored shape of the ledger, as SQLAlchemy sees it; changes are Alembic migrations."""

from __future__ import annotations

from sqlalchemy import Column, Float, Integer, MetaData, String, Table, Text

HEAD = "0001"  #: the newest migration
VERSIONS = ("0001",)  #: every shape there ever was

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
