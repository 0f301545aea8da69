"""The ledger: records that are only ever added, each carrying the hash of the one before."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from sqlalchemy.engine import Connection, Engine
from sqlalchemy.exc import DatabaseError, OperationalError

from nonna.adapters import ledger_file
from nonna.adapters.ledger_check import CLOCKS_APART, FAR_AHEAD, highest_ever, verified, version_of
from nonna.adapters.schema import HEAD, VERSIONS, create, records
from nonna.adapters.sqlite_file import connect
from nonna.bench.canonical import FIRST_PREVIOUS, canonical, digest
from nonna.bench.record import REPEATED, ChainCheck, Receipt, Record, checked
from nonna.errors import NonnaError


class Ledger:
    """A shop's records, in SQLite by default, in any database SQLAlchemy knows by URL.

    Several processes may use one ledger at once: signing takes the database's write lock, so the chain
    never forks. Opening makes the file and brings its shape up to date.
    Raises: NonnaError ``unreadable`` (not a ledger, newer than this program, or locked).
    """

    def __init__(self, where: Path | str, *, create: bool = True, reading: bool = False) -> None:
        self._name = where.name if isinstance(where, Path) else "the ledger"
        if isinstance(where, Path):
            try:
                if where.is_file():
                    ledger_file.must_be_ours(where)
                elif not create or reading:
                    raise NonnaError(
                        "unreadable", "There is no ledger {name!r} in that shop folder yet.", "shop", name=where.name
                    )
                else:
                    where.parent.mkdir(parents=True, exist_ok=True)
                    ledger_file.make(where)
            except OSError as error:
                raise NonnaError(
                    "unreadable",
                    "{name} cannot be opened: {strerror}.",
                    "shop",
                    name=self._name,
                    strerror=error.strerror,
                ) from error
            except DatabaseError as error:
                words = "{name} cannot be made: {error}."
                raise NonnaError("unreadable", words, "shop", name=self._name, error=error.orig) from error
        self._engine = _engine(where, reading)
        with self._transaction(write=False) as connection:
            version = version_of(connection)
        if version != HEAD and not reading:
            self._migrate()

    def sign(self, body: dict[str, Any]) -> Receipt:
        """Add a record; when this returns, it is on the disk.

        Raises: NonnaError ``unreadable`` (the database refused), ValueError (a number not finite).
        """
        return self.sign_all([body])[0]

    def sign_all(
        self, bodies: Iterable[dict[str, Any]], into: list[Receipt] | None = None, *, clock_is_right: bool = False
    ) -> tuple[Receipt, ...]:
        """Add several records in one transaction: all or none.

        Parameters: into, a list that fills as they are added, for bodies that refer to the ones before them;
        clock_is_right, whether somebody said so: then a time far from the last record's is taken, and the record says it.
        Raises: as `sign`.
        """
        receipts = [] if into is None else into
        with self._transaction(write=True) as connection:
            last, previous = _unbroken_end(connection)
            newest = _signed_at(connection, last)
            for body in bodies:
                far = _far_from(body, newest, last)
                if far is not None and not clock_is_right:
                    raise far
                said = {"clock": {"record": last, "signed_at": str(newest)}} if far is not None else {}
                newest = datetime.fromisoformat(body["signed_at"])
                whole = {**body, **said, "number": last + 1, "previous": previous}
                last, previous = last + 1, _insert(connection, whole)
                receipts.append(Receipt(last, previous))
        return tuple(receipts)

    def adopt(self, bodies: Iterable[Mapping[str, Any]]) -> int:
        """Add records signed elsewhere, all or none, and return how many were new.

        They must carry on this ledger's chain; those that are here already, to the last digit, are passed over.
        Raises: NonnaError ``wrong-format`` (they do not follow the last record here, or differ from one that is here).
        """
        added = 0
        with self._transaction(write=True) as connection:
            last, previous = _unbroken_end(connection)
            for body in bodies:
                number = body["number"]
                if number <= last and not added and _hash_of(connection, number) == digest(canonical(dict(body))):
                    continue
                if number != last + 1 or body["previous"] != previous:
                    raise NonnaError(
                        "wrong-format",
                        "Record {number} does not follow record {last}, the last one here.",
                        number=number,
                        last=last,
                    )
                newest = _signed_at(connection, last) if not added else None  # between themselves they were compared
                if newest is not None and "clock" not in body and _is_back_dated(body, newest):
                    words = "Record {number} is dated over a day before record {last}, which it follows."
                    raise NonnaError("wrong-format", words, number=number, last=last)
                last, previous, added = last + 1, _insert(connection, dict(body)), added + 1
        return added

    def get(self, reference: str | int) -> Record:
        """Return a record by number, or by the first six or more characters of its hash.

        Raises: NonnaError ``unreadable`` (no such record, or the start fits several).
        """
        key = str(reference).lower()
        number = int(key) if key.isdecimal() and len(key) < 12 else None
        start = key if len(key) >= 6 and set(key) <= set("0123456789abcdef") else None
        if number is None and start is None:
            raise NonnaError(
                "unreadable",
                "{value!r} is neither a record's number nor the start of its hash.",
                "record",
                value=key[:70],
            )
        query = "SELECT number, hash, body FROM records WHERE {} LIMIT 2"
        with self._transaction(write=False) as connection:
            rows = connection.exec_driver_sql(query.format(f"number = {number}")).all() if number is not None else []
            if not rows and start is not None:  # a hash may begin with figures alone; only hexadecimal figures get here
                rows = connection.exec_driver_sql(query.format(f"hash LIKE '{start}%%'")).all()
        if len(rows) != 1:
            words = "fits more than one record" if rows else "is not in this ledger"
            raise NonnaError("unreadable", "Record {key!r} {words}.", "record", key=key, words=words)
        return checked(*rows[0])

    def all(self) -> Iterator[Record]:
        """Give every record, oldest first. Raises: DamagedRecordError at the first that is damaged."""
        with self._transaction(write=False) as connection:
            for row in connection.exec_driver_sql("SELECT number, hash, body FROM records ORDER BY number"):
                yield checked(*row)

    def verify(self) -> ChainCheck:
        """Check every hash, every link of the chain, every repeated column, what records say of themselves, and the file."""
        with self._transaction(write=False) as connection:
            return verified(connection)

    def __enter__(self) -> Ledger:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def _migrate(self) -> None:
        with self._transaction(write=True) as connection:
            version = version_of(connection)  # another process may have been faster
            if version is not None and version not in VERSIONS:
                words = (
                    "{name} has a shape this Nonna does not know ({value!r}): a newer one wrote it, or it is not ours."
                )
                raise NonnaError("unreadable", words, "ledger", name=self._name, value=version[:20])
            if not sa.inspect(connection).get_table_names():
                create(connection)
            elif version != HEAD:
                from nonna.adapters.migrate import upgrade  # late: slow to import, large and seldom needed

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
            raise NonnaError(
                "unreadable", "{name}: the database says: {orig}.", "ledger", name=self._name, orig=error.orig
            ) from error
        except (DatabaseError, sqlite3.DatabaseError) as error:
            said = getattr(error, "orig", error)
            raise NonnaError(
                "unreadable", "{name} is damaged or not a ledger: {said}.", "ledger", name=self._name, said=said
            ) from error


def _end(connection: Connection) -> tuple[int, str]:
    """Return number and hash of the last record."""
    newest = sa.select(records.c.number, records.c.hash).order_by(records.c.number.desc()).limit(1)
    last = connection.execute(newest).first()
    return (last.number, last.hash) if last else (0, FIRST_PREVIOUS)


def _unbroken_end(connection: Connection) -> tuple[int, str]:
    """Return the end of a chain that may be carried on. Raises: NonnaError (records at its end are gone)."""
    last, previous = _end(connection)
    highest = highest_ever(connection)
    if highest is not None and highest > last:
        words = (
            "Record {value} is gone, {highest} were signed: nothing is added to a book with pages missing. "
            "Fetch a copy."
        )
        raise NonnaError("unreadable", words, "ledger", value=last + 1, highest=highest)
    return last, previous


def _signed_at(connection: Connection, number: int) -> datetime | None:
    row = connection.execute(sa.select(records.c.body).where(records.c.number == number)).first()
    try:
        return datetime.fromisoformat(json.loads(row[0])["signed_at"]) if row else None
    except (TypeError, ValueError, KeyError):
        return None  # the chain says so when it is verified


def _is_back_dated(body: Mapping[str, Any], newest: datetime) -> bool:
    return newest.tzinfo is not None and datetime.fromisoformat(body["signed_at"]) < newest - CLOCKS_APART


def _far_from(body: Mapping[str, Any], newest: datetime | None, last: int) -> NonnaError | None:
    """Return why a clock is to be asked about: a signature dated before the last one, or very long after it."""
    signed = datetime.fromisoformat(body["signed_at"])
    if newest is None or newest.tzinfo is None or (not _is_back_dated(body, newest) and signed - newest <= FAR_AHEAD):
        return None
    return NonnaError(
        "out-of-range",
        (
            "By this computer it is {signed:%d %b %Y %H:%M}, but record {last} was signed {newest:%d %b %Y "
            "%H:%M}: if it is not, set the clock, then sign. If it is, say so."
        ),
        "signed_at",
        signed=signed,
        last=last,
        newest=newest,
    )


def _hash_of(connection: Connection, number: int) -> str | None:
    row = connection.execute(sa.select(records.c.hash).where(records.c.number == number)).first()
    return str(row[0]) if row else None


def _insert(connection: Connection, body: dict[str, Any]) -> str:
    """Store a whole record and return its hash."""
    text = canonical(body)
    row = {name: body[name] for name in (*REPEATED, "number", "previous")}
    connection.execute(records.insert().values(hash=digest(text), body=text, **row))
    return digest(text)


def _engine(where: Path | str, reading: bool) -> Engine:
    if not isinstance(where, Path):
        return sa.create_engine(where)
    engine = sa.create_engine(
        "sqlite://", creator=lambda: connect(where, write=not reading), poolclass=sa.pool.QueuePool
    )

    @sa.event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # transactions are begun by hand, so that writers queue
        for pragma in () if reading else ("journal_mode=WAL", "synchronous=FULL", "fullfsync=1", "foreign_keys=ON"):
            connection.execute(f"PRAGMA {pragma}")

    return engine
