"""The ledger: records that are only ever added, each carrying the hash of the one before."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection, Engine
from sqlalchemy.exc import DatabaseError, OperationalError

from nonna.metrology.errors import NonnaError
from nonna.records.canonical import FIRST_PREVIOUS, canonical, digest
from nonna.records.schema import HEAD, records

BUSY_SECONDS = 20
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
)
"""Parts of the body that also stand in columns of their own."""


@dataclass(frozen=True, slots=True)
class Receipt:
    """What signing gives back, once the record is safely stored."""

    number: int
    hash: str


@dataclass(frozen=True, slots=True)
class Check:
    """Whether the chain holds, and if not, which record is the first that does not."""

    sound: bool
    count: int
    first_damaged: int | None = None
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Record:
    """One record as it stands in the ledger."""

    number: int
    hash: str
    body: dict[str, Any]


class Ledger:
    """A shop's records, in SQLite by default, in any database SQLAlchemy knows by URL.

    Several processes may use one ledger at once: signing takes the database's write lock, so the chain
    never forks. Opening makes the file and brings its shape up to date.
    Raises: NonnaError ``unreadable`` (not a ledger, newer than this program, or locked).
    """

    def __init__(self, where: Path | str, *, create: bool = True) -> None:
        self._name = where.name if isinstance(where, Path) else "the ledger"
        if isinstance(where, Path):
            if not create and not where.is_file():
                raise NonnaError("unreadable", f"There is no ledger {where.name!r} in that shop folder yet.")
            where.parent.mkdir(parents=True, exist_ok=True)
        self._engine = _engine(where)
        with self._transaction(write=False) as connection:
            version = _version(connection)
        if version != HEAD:
            self._migrate()

    def sign(self, body: dict[str, Any]) -> Receipt:
        """Add a record; when this returns, it is on the disk.

        Raises: NonnaError ``unreadable`` (the database refused), ValueError (a number not finite).
        """
        return self.sign_all([body])[0]

    def sign_all(self, bodies: Sequence[dict[str, Any]]) -> tuple[Receipt, ...]:
        """Add several records in one transaction: all or none. Raises: as `sign`."""
        receipts = []
        with self._transaction(write=True) as connection:
            for body in bodies:
                last, previous = _end(connection)
                whole = {**body, "number": last + 1, "previous": previous}
                receipts.append(Receipt(last + 1, _insert(connection, whole)))
        return tuple(receipts)

    def adopt(self, bodies: Sequence[dict[str, Any]]) -> None:
        """Add records signed elsewhere, all or none; they must carry on this ledger's chain.

        Raises: NonnaError ``wrong-format`` (they do not follow the last record here).
        """
        with self._transaction(write=True) as connection:
            for body in bodies:
                last, previous = _end(connection)
                if body["number"] != last + 1 or body["previous"] != previous:
                    raise NonnaError(
                        "wrong-format", f"Record {body['number']} does not follow record {last}, the last one here."
                    )
                _insert(connection, body)

    def get(self, reference: str | int) -> Record:
        """Return a record by number, or by the first six or more characters of its hash.

        Raises: NonnaError ``unreadable`` (no such record, or the start fits several).
        """
        key = str(reference).lower()
        number = int(key) if key.isdecimal() and len(key) < 12 else None
        start = key if len(key) >= 6 and set(key) <= set("0123456789abcdef") else None
        if number is None and start is None:
            raise NonnaError(
                "unreadable", f"{key[:70]!r} is neither a record's number nor the start of its hash.", "record"
            )
        query = sa.select(records.c.number, records.c.hash, records.c.body).limit(2)
        with self._transaction(write=False) as connection:
            rows = connection.execute(query.where(records.c.number == number)).all() if number is not None else []
            if not rows and start is not None:  # a hash may begin with figures alone
                rows = connection.execute(query.where(records.c.hash.startswith(start))).all()
        if len(rows) != 1:
            words = "fits more than one record" if rows else "is not in this ledger"
            raise NonnaError("unreadable", f"Record {key!r} {words}.", "record")
        return Record(rows[0].number, rows[0].hash, json.loads(rows[0].body))

    def withdrawal_of(self, number: int) -> int | None:
        """Return the record that takes an earlier one back, or None while it stands."""
        query = sa.select(records.c.number).where(records.c.kind == "withdrawal", records.c.refers_to == number)
        with self._transaction(write=False) as connection:
            row = connection.execute(query.limit(1)).first()
        return int(row[0]) if row else None

    def all(self) -> Iterator[Record]:
        """Give every record, oldest first."""
        with self._transaction(write=False) as connection:
            for row in connection.execute(sa.select(records).order_by(records.c.number)):
                yield Record(row.number, row.hash, json.loads(row.body))

    def verify(self) -> Check:
        """Check every hash, every link of the chain, every repeated column, and that no record at the end is gone."""
        previous, count = FIRST_PREVIOUS, 0
        with self._transaction(write=False) as connection:
            for row in connection.execute(sa.select(records).order_by(records.c.number)):
                reason = _damage(row, previous, count + 1)
                if reason:
                    return Check(False, count, count + 1, reason)
                previous, count = row.hash, count + 1
            highest = _highest_ever(connection)
        if highest is not None and highest > count:
            return Check(False, count, count + 1, f"record {count + 1} is gone; {highest} were signed")
        return Check(True, count)

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def _migrate(self) -> None:
        from nonna.records.migrate import upgrade

        with self._transaction(write=True) as connection:
            version = _version(connection)  # another process may have been faster
            if version is not None and version > HEAD:
                raise NonnaError(
                    "unreadable", f"{self._name} was written by a newer Nonna; this one must not touch it."
                )
            if version != HEAD:
                upgrade(connection)

    @contextmanager
    def _transaction(self, *, write: bool) -> Iterator[Connection]:
        try:
            with self._engine.connect() as connection:
                if self._engine.dialect.name == "sqlite":
                    connection.exec_driver_sql("BEGIN IMMEDIATE" if write else "BEGIN")
                elif write and sa.inspect(connection).has_table("records"):  # one writer at a time elsewhere, too
                    connection.exec_driver_sql("LOCK TABLE records IN EXCLUSIVE MODE")
                yield connection
                connection.commit()
        except OperationalError as error:
            raise NonnaError("unreadable", f"{self._name}: the database says: {error.orig}.") from error
        except DatabaseError as error:
            raise NonnaError("unreadable", f"{self._name} is damaged or not a ledger: {error.orig}.") from error


def _end(connection: Connection) -> tuple[int, str]:
    """Return number and hash of the last record."""
    newest = sa.select(records.c.number, records.c.hash).order_by(records.c.number.desc()).limit(1)
    last = connection.execute(newest).first()
    return (last.number, last.hash) if last else (0, FIRST_PREVIOUS)


def _insert(connection: Connection, body: dict[str, Any]) -> str:
    """Store a whole record and return its hash."""
    text = canonical(body)
    row = {name: body[name] for name in (*REPEATED, "number", "previous")}
    connection.execute(records.insert().values(hash=digest(text), body=text, **row))
    return digest(text)


def _engine(where: Path | str) -> Engine:
    if not isinstance(where, Path):
        return sa.create_engine(where)
    engine = sa.create_engine(f"sqlite:///{where}", connect_args={"timeout": BUSY_SECONDS})

    @sa.event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # transactions are begun by hand, so that writers queue
        for pragma in ("journal_mode=WAL", "synchronous=FULL", "fullfsync=1", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    return engine


def _version(connection: Connection) -> str | None:
    if not sa.inspect(connection).has_table("alembic_version"):
        return None
    row = connection.exec_driver_sql("SELECT version_num FROM alembic_version").first()
    return str(row[0]) if row else None


def _damage(row: Any, previous: str, expected: int) -> str:
    """Say what is wrong with a row, or "" when it is sound."""
    if row.number != expected:
        return f"record {expected} is gone"
    if digest(row.body) != row.hash:
        return "its text does not match its hash"
    if row.previous != previous:
        return "it does not follow the record before it"
    try:
        body = json.loads(row.body)
        if body["previous"] != previous or body["number"] != row.number:
            return "it does not follow the record before it"
        wrong = [name for name in REPEATED if body[name] != getattr(row, name)]
    except (ValueError, KeyError, TypeError):
        return "its text is not a record"
    return f"its column {wrong[0]} does not match its text" if wrong else ""


def _highest_ever(connection: Connection) -> int | None:
    """Return the highest number ever given out, which SQLite remembers even when rows are gone."""
    if connection.dialect.name != "sqlite":
        return None
    row = connection.exec_driver_sql("SELECT seq FROM sqlite_sequence WHERE name = 'records'").first()
    return int(row[0]) if row else None
