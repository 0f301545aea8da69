"""Whole records of a ledger, each read once and checked against its hash."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from pathlib import Path

from nonna.adapters.marks import ledger_marks
from nonna.adapters.sqlite_file import connect
from nonna.bench.record import NotRead, Record, checked
from nonna.errors import NonnaError

NEIGHBOURS, MOST_NEIGHBOURS = 24, 400  #: read along, for whoever looks for a result goes backwards


_Row = tuple[int, str, bytes]  # number, hash, body


class Reader:
    """Reads whole records by number, each once and checked against its hash; several threads may ask.

    It stays with the file as it was when it was made: whoever holds it is told the same as before.
    """

    def __init__(self, ledger: Path, before: Reader | None = None) -> None:
        self._ledger = ledger
        self._marks = ledger_marks(ledger)
        self._rows: dict[int, _Row] = {}  #: read along, not checked yet
        self._seen: dict[int, Record] = dict(before._seen) if before is not None else {}  #: checked
        self._sure: set[int] = set()  #: those of them that stand in the file as it is now
        self._reach = NEIGHBOURS

    def __call__(self, number: int) -> Record:
        """Return a record. Raises: NonnaError ``unreadable`` naming a damaged record."""
        if number in self._seen and number not in self._sure:
            self._compare()
        sure, found = self._sure, self._seen.get(number)
        if found is None:
            row = self._rows.pop(number, None) or self._fetched(number)
            found = self._seen[number] = checked(*row)
            sure.add(number)
        return found

    def known(self, number: int) -> Record:
        """Return a record that was read before, whatever the disk is doing. Raises: NotRead."""
        if number not in self._sure:
            raise NotRead(number)
        return self._seen[number]

    def renewed(self) -> Reader:
        """Return one of the file as it is now; what stands there under the same hash need not be read once more."""
        if ledger_marks(self._ledger) == self._marks:
            return self
        self._rows = {}  # whoever still holds it has what was read; what was read along is let go
        return Reader(self._ledger, self)

    def _compare(self) -> None:
        """Keep of what was read before what the file has under the same hash: the record that was signed."""
        sure, seen = self._sure, dict(self._seen)
        query = "SELECT number, hash FROM records WHERE number IN (SELECT value FROM json_each(?))"
        try:
            with closing(connect(self._ledger)) as connection:
                there = dict(connection.execute(query, (json.dumps(list(seen)),)).fetchall())
        except sqlite3.DatabaseError:
            there = {}  # each is read again, and whatever is wrong is said there
        for number, record in seen.items():
            if there.get(number) == record.hash:
                sure.add(number)
            else:
                self._seen.pop(number, None)

    def read_ahead(self, newest: int) -> None:
        """Read the newest records from the file before somebody waits for them. Raises: as when one is asked for."""
        if newest not in self._rows:
            self._reach = MOST_NEIGHBOURS
            self._fetched(newest)

    def _fetched(self, number: int) -> _Row:
        try:
            rows = self._fetch(number - self._reach, number)  # opening costs more than reading some neighbours
            self._reach = min(2 * self._reach, MOST_NEIGHBOURS)
        except sqlite3.DatabaseError:
            try:
                rows = self._fetch(number, number)  # a damaged neighbour is not this one's fault
            except sqlite3.DatabaseError as error:
                words = "{name}: record {number} cannot be read: {error}."
                raise NonnaError("unreadable", words, name=self._ledger.name, number=number, error=error) from error
        self._rows.update(rows)
        if number not in rows:
            raise NonnaError(
                "unreadable", "{name}: record {number} is gone.", "record", name=self._ledger.name, number=number
            )
        return rows[number]

    def _fetch(self, first: int, last: int) -> dict[int, _Row]:
        query = "SELECT number, hash, body FROM records WHERE number BETWEEN ? AND ?"
        with closing(connect(self._ledger)) as connection:
            return {row[0]: row for row in connection.execute(query, (first, last))}
