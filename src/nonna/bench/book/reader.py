"""Whole records of a book, each read once and checked against its hash."""

from __future__ import annotations

from nonna.bench.book.store import Store, Stored
from nonna.errors import NonnaError
from nonna.shop.records.damage import NotRead
from nonna.shop.records.text import read
from nonna.shop.records.values import Record

NEIGHBOURS, MOST_NEIGHBOURS = 24, 400  #: read along, for whoever looks for a result goes backwards


class Reader:
    """Reads whole records by number, each once and checked against its hash; several threads may ask.

    It stays with the book as it was when it was made: whoever holds it is told the same as before.
    """

    def __init__(self, store: Store, before: Reader | None = None) -> None:
        self._store = store
        self._marks = store.marks()
        self._rows: dict[int, Stored] = {}  #: read along, not checked yet
        self._seen: dict[int, Record] = dict(before._seen) if before is not None else {}  #: checked
        self._sure: set[int] = set()  #: those of them that stand in the store as it is now
        self._reach = NEIGHBOURS

    def __call__(self, number: int) -> Record:
        """Return a record. Raises: NonnaError ``unreadable`` naming a damaged record."""
        if number in self._seen and number not in self._sure:
            self._compare()
        sure, found = self._sure, self._seen.get(number)
        if found is None:
            row = self._rows.pop(number, None) or self._fetched(number)
            found = self._seen[number] = read(*row)
            sure.add(number)
        return found

    def known(self, number: int) -> Record:
        """Return a record that was read before, whatever the disk is doing. Raises: NotRead."""
        if number not in self._sure:
            raise NotRead(number)
        return self._seen[number]

    def renewed(self) -> Reader:
        """Return one of the book as it is now; what stands there under the same hash need not be read once more."""
        if self._store.marks() == self._marks:
            return self
        self._rows = {}  # whoever still holds it has what was read; what was read along is let go
        return Reader(self._store, self)

    def _compare(self) -> None:
        """Keep of what was read before what the store has under the same hash: the record that was signed."""
        sure, seen = self._sure, dict(self._seen)
        try:
            there = dict(self._store.heads())
        except NonnaError:
            there = {}  # each is read again, and whatever is wrong is said there
        for number, record in seen.items():
            if there.get(number) == record.hash:
                sure.add(number)
            else:
                self._seen.pop(number, None)

    def read_ahead(self, newest: int) -> None:
        """Read the newest records from the store before somebody waits for them. Raises: as when one is asked for."""
        if newest not in self._rows:
            self._reach = MOST_NEIGHBOURS
            self._fetched(newest)

    def _fetched(self, number: int) -> Stored:
        try:
            rows = self._fetch(number - self._reach, number)  # opening costs more than reading some neighbours
            self._reach = min(2 * self._reach, MOST_NEIGHBOURS)
        except NonnaError:
            rows = self._fetch(number, number)  # a damaged neighbour is not this one's fault
        self._rows.update(rows)
        if number not in rows:
            words = "{name}: record {number} is gone."
            raise NonnaError("unreadable", words, "record", name=self._store.name, number=number)
        return rows[number]

    def _fetch(self, first: int, last: int) -> dict[int, Stored]:
        return {row.number: row for row in self._store.rows(max(1, first), last)}
