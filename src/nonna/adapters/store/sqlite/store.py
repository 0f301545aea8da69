"""Fills the port `bench.book.store.Store`: short statements in short transactions; a writer waits for another one."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.adapters.files.marks import is_settled, ledger_marks
from nonna.adapters.store.sqlite import file, shapes
from nonna.adapters.store.sqlite.opening import connect
from nonna.bench.book.store import Beside, Stored
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.shop.records.values import Record

PAGE = 500  #: records whose text is held at once
_ROW = "SELECT number, hash, body FROM records"
_COLUMNS = ", ".join(shapes.REPEATED)
_INSERT = (
    f"INSERT INTO records (number, hash, previous, body, {_COLUMNS}) "
    f"VALUES ({', '.join('?' * (4 + len(shapes.REPEATED)))})"
)


class SqliteStore:
    """A ledger's file. Several processes may use one at once: who adds takes the write lock, so the chain never
    forks.
    """

    def __init__(self, path: Path) -> None:
        self.path = path

    @property
    def name(self) -> str:
        """The file's name."""
        return self.path.name

    @property
    def exists(self) -> bool:
        """Whether there is such a file."""
        return self.path.is_file()

    def marks(self) -> tuple[int, ...]:
        """Return what changes whenever somebody adds."""
        return (*ledger_marks(self.path), is_settled(self.path))

    def heads(self) -> tuple[tuple[int, str], ...]:
        """Return number and hash of each record, in order. Raises: NonnaError."""
        with self._reading() as connection:
            return tuple(connection.execute("SELECT number, hash FROM records ORDER BY number"))

    def rows(self, first: int, last: int) -> Iterator[Stored]:
        """Give the rows with these numbers, a page at a time. Raises: NonnaError."""
        with self._reading() as connection:
            for begin in range(first, last + 1, PAGE):
                page = connection.execute(
                    f"{_ROW} WHERE number BETWEEN ? AND ? ORDER BY number", (begin, min(begin + PAGE - 1, last))
                )
                yield from [Stored(*row) for row in page]

    def rows_beside(self) -> Iterator[tuple[Stored, Beside]]:
        """Give all rows, in order, with their columns. Raises: NonnaError."""
        with self._reading() as connection:
            if not shapes.has_table(connection, "records"):
                words = "{name}: its table of records is gone. Fetch a copy."
                raise NonnaError("unreadable", words, "ledger", name=self.name)
            query = f"SELECT number, hash, body, previous, {_COLUMNS} FROM records ORDER BY number"
            for number, hash_, text, previous, *columns in connection.execute(query):
                beside = Beside(previous, dict(zip(shapes.REPEATED, columns, strict=True)))
                yield Stored(number, hash_, text), beside

    def starting_with(self, hash_: str) -> tuple[Stored, ...]:
        """Return the rows whose hash begins so, at most two. Raises: NonnaError."""
        with self._reading() as connection:
            found = connection.execute(f"{_ROW} WHERE substr(hash, 1, ?) = ? LIMIT 2", (len(hash_), hash_))
            return tuple(Stored(*row) for row in found)

    def newest_of(self, machine: str, most: int) -> Iterator[Stored]:
        """Give the newest measurements of a machine, newest first. Raises: NonnaError."""
        query = f"{_ROW} WHERE kind = 'measurement' AND machine = ? ORDER BY number DESC LIMIT ?"
        with self._reading() as connection:
            for row in connection.execute(query, (machine, most)):
                yield Stored(*row)

    def with_words(self, words: str) -> Iterator[Stored]:
        """Give the measurements that have these words in their text, newest first. Raises: NonnaError."""
        query = f"{_ROW} WHERE kind = 'measurement' AND instr(body, ?) ORDER BY number DESC"
        with self._reading() as connection:
            for row in connection.execute(query, (words,)):
                yield Stored(*row)

    @contextmanager
    def adding(self) -> Iterator[_Adding]:
        """Let records be added, all or none. Raises: NonnaError."""
        if not self.exists:
            with self._said(made=True):
                try:
                    with file.made_aside(self.path):
                        pass
                except FileExistsError:
                    pass  # another process was faster: its file is as good
        with self._said():
            file.must_be_writable(self.path)
        with self._said(), self._transaction(self.path) as adding:
            yield adding

    @contextmanager
    def beginning(self) -> Iterator[_Adding]:
        """Let the first records be added, all or none; nothing is left where that fails. Raises: NonnaError."""
        try:
            with self._said(made=True), file.made_aside(self.path) as fresh, self._transaction(fresh) as adding:
                yield adding
        except FileExistsError as error:
            words = "{name} was made by somebody else meanwhile: import once more."
            raise NonnaError("unreadable", words, "ledger", name=self.name) from error

    def damage(self) -> tuple[int, str]:
        """Return the highest number ever given out, and what is wrong with the file itself. Raises: NonnaError."""
        with self._reading() as connection:
            return _highest(connection), shapes.damage(connection)

    @contextmanager
    def _reading(self) -> Iterator[sqlite3.Connection]:
        with self._said():
            if not self.path.is_file():
                words = "There is no ledger {name!r} in that shop folder yet."
                raise NonnaError("unreadable", words, "shop", name=self.name)
            if self.path.stat().st_size == 0:
                words = "{name} is empty: it was cut off. Fetch a copy."
                raise NonnaError("unreadable", words, "ledger", name=self.name)
            with closing(connect(self.path)) as connection:
                connection.execute("BEGIN")
                yield connection

    @contextmanager
    def _transaction(self, path: Path) -> Iterator[_Adding]:
        file.must_hold_something(path)
        with closing(connect(path, write=True)) as connection:
            file.must_be_ours(path, connection)
            connection.isolation_level = None  # transactions are begun by hand, so that writers queue
            for pragma in ("journal_mode=WAL", "synchronous=FULL", "fullfsync=1"):
                connection.execute(f"PRAGMA {pragma}")
            connection.execute("BEGIN IMMEDIATE")
            try:
                self._bring_up_to_date(connection)
                yield _Adding(connection)
            except BaseException:
                connection.execute("ROLLBACK")
                raise
            connection.execute("COMMIT")

    def _bring_up_to_date(self, connection: sqlite3.Connection) -> None:
        version = shapes.version_of(connection)
        if version == shapes.HEAD:
            return
        if version not in shapes.VERSIONS:
            words = "{name} has a shape this Nonna does not know ({value!r}): a newer one wrote it, or it is not ours."
            raise NonnaError("unreadable", words, "ledger", name=self.name, value=(version or "")[:20])
        shapes.upgrade(connection, version)

    @contextmanager
    def _said(self, *, made: bool = False) -> Iterator[None]:
        """Put what goes wrong into words."""
        try:
            yield
        except FileExistsError:
            raise
        except sqlite3.OperationalError as error:
            words = "{name} cannot be made: {error}." if made else "{name}: the database says: {error}."
            raise NonnaError("unreadable", words, "ledger", name=self.name, error=error) from error
        except sqlite3.DatabaseError as error:
            words = "{name} is damaged or not a ledger: {error}."
            raise NonnaError("unreadable", words, "ledger", name=self.name, error=error) from error
        except OSError as error:
            words = "{name} cannot be opened: {strerror}."
            raise NonnaError("unreadable", words, "shop", name=self.name, strerror=error.strerror or error) from error


class _Adding:
    """Adds within one transaction; fills `bench.book.store.Adding`."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._connection = connection

    @property
    def last(self) -> Stored | None:
        """The newest record there is."""
        row = self._connection.execute(f"{_ROW} ORDER BY number DESC LIMIT 1").fetchone()
        return Stored(*row) if row else None

    @property
    def highest(self) -> int:
        """The highest number ever given out."""
        return _highest(self._connection)

    def hash_of(self, number: int) -> str | None:
        """Return the hash of a record that is there."""
        row = self._connection.execute("SELECT hash FROM records WHERE number = ?", (number,)).fetchone()
        return str(row[0]) if row else None

    def add(self, record: Record) -> None:
        """Add a record."""
        body = json.loads(record.text)
        columns = [body[name] for name in shapes.REPEATED]
        self._connection.execute(_INSERT, [record.number, record.hash, record.previous, record.text, *columns])


def _highest(connection: sqlite3.Connection) -> int:
    """Return the highest number ever given out, which SQLite remembers even when rows are gone."""
    row = connection.execute("SELECT seq FROM sqlite_sequence WHERE name = 'records'").fetchone()
    return row[0] if row and isinstance(row[0], int) else 0
