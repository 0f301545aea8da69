"""The signed records of a shop: looked at, read, added to, proved; wherever they are stored."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import suppress
from typing import TYPE_CHECKING, NamedTuple

from nonna.bench.book import glance
from nonna.bench.book.store import Store
from nonna.errors import NonnaError
from nonna.shop.links.history import Entry, Standing, standing
from nonna.shop.records.hashing import HEX

if TYPE_CHECKING:
    from nonna.bench.book.chain import ChainCheck, Receipt
    from nonna.bench.book.reader import Reader
    from nonna.shop.records.values import Record


SHORTEST_START = 6  #: letters of a hash that name a record


class _Looked(NamedTuple):
    """What was read of a book at one moment, and what was worked out from it since."""

    marks: tuple[int, ...]
    entries: tuple[Entry, ...]
    standing: dict[tuple[str, str, bool], Standing]
    minutes: dict[str, dict[str, float]]


class Book:
    """Everything may raise NonnaError ``unreadable``."""

    def __init__(self, store: Store) -> None:
        self.store = store
        self._reader: Reader | None = None
        self._looked: _Looked | None = None
        self._signed = 0  #: times that this book was written to from here
        self._known: dict[glance.Head, Entry] = {}
        self._clock_is_right = False

    @property
    def exists(self) -> bool:
        """Whether anything was ever signed."""
        return self.store.exists

    def marks(self) -> tuple[int, ...]:
        """Return what changes whenever somebody signs, and once more when it can surely be read."""
        return (*self.store.marks(), self._signed)

    def entries(self) -> tuple[Entry, ...]:
        """Return a row a record, oldest first."""
        return self._look().entries

    def standing(self, station: str, home: str, *, practice: bool) -> Standing:
        """Return a station's rows that count; those that name no station belong to the home.

        Parameters: practice, whether the shop is invented; in another what was signed in one does not count.
        """
        looked, key = self._look(), (station, home, practice)
        if key not in looked.standing:
            looked.standing[key] = standing(looked.entries, station, home, practice=practice)
        return looked.standing[key]

    def _look(self) -> _Looked:
        """Read again only where something changed."""
        marks = self.marks()  # before it is read: what is signed meanwhile is seen next time
        looked = self._looked
        if looked is None or looked.marks != marks:
            looked = self._looked = _Looked(marks, glance.entries(self.store, self._known), {}, {})
        return looked

    def reader(self) -> Reader:
        """Return what reads whole records by number, as they stand now, each checked against its hash."""
        from nonna.bench.book.reader import Reader

        self._reader = self._reader.renewed() if self._reader is not None else Reader(self.store)
        return self._reader

    def minutes(self, station: str) -> dict[str, float]:
        """Return the technician's own minutes by procedure."""
        learned = self._look().minutes
        if station not in learned:
            learned[station] = glance.minutes(self.store, station)
        return learned[station]

    def record_of_draft(self, draft: str) -> int | None:
        """Return the record that came from a tape that was kept, None where it was not signed."""
        if not draft or not self.exists:
            return None
        found = next(self.store.with_words(f'"draft":"{draft}"'), None)
        return found.number if found is not None else None

    def withdrawal_of(self, number: int) -> int | None:
        """Return the record that took one back, None where it counts."""
        return next((e.number for e in self.entries() if e.kind == "withdrawal" and e.refers_to == number), None)

    def clock_is_right(self) -> None:
        """Take the next signature's time though it is far from the last record's: somebody looked at the clock."""
        self._clock_is_right = True

    def sign(self, records: Iterable[Record], into: list[Receipt] | None = None) -> tuple[Receipt, ...]:
        """Add records, all or none; when this returns they are safely stored.

        A time far from the last record's is refused (``where``: ``signed_at``) until `clock_is_right` was said.
        Parameters: into, a list that fills as they are added, for records that refer to the ones before them.
        Raises: NonnaError, ValueError (a number not finite).
        """
        from nonna.bench.book.adding import add_all  # late: the first picture adds nothing

        right, self._clock_is_right = self._clock_is_right, False
        receipts = [] if into is None else into
        with self.store.adding() as adding:
            add_all(adding, records, receipts, clock_is_right=right)
        self._signed += 1  # the store changes before what was added can be read: who looked in between looks again
        if self._looked is not None and receipts:
            with suppress(NonnaError, OSError):  # it is signed: what is wrong with the book else, the next look says
                self._look()  # here, where nobody waits for it
                self.reader().read_ahead(receipts[-1].number)
        return tuple(receipts)

    def get(self, reference: str | int) -> Record:
        """Return a record by number, or by the first six or more characters of its hash.

        Raises: NonnaError ``unreadable`` (no such record, or the start fits several).
        """
        key = str(reference).lower()
        number = int(key) if key.isdecimal() and len(key) < 12 else None
        start = key if len(key) >= SHORTEST_START and set(key) <= HEX else None
        if number is None and start is None:
            words = "{value!r} is neither a record's number nor the start of its hash."
            raise NonnaError("unreadable", words, "record", value=key[:70])
        rows = tuple(self.store.rows(number, number)) if number is not None else ()
        if not rows and start is not None:  # a hash may begin with figures alone
            rows = self.store.starting_with(start)
        if len(rows) != 1:
            words = "fits more than one record" if rows else "is not in this ledger"
            raise NonnaError("unreadable", "Record {key!r} {words}.", "record", key=key, words=words)
        from nonna.shop.records.text import read  # late: the first picture looks into no record

        return read(*rows[0])

    def all(self) -> Iterator[Record]:
        """Give every record, oldest first. Raises: DamagedRecordError at the first that is damaged."""
        from nonna.shop.records.text import read

        heads = self.store.heads()
        for row in self.store.rows(1, heads[-1][0]) if heads else ():
            yield read(*row)

    def verify(self) -> ChainCheck:
        """Check every hash, every link of the chain, what stands beside records, what they say, and the store
        itself.
        """
        from nonna.bench.book.proof import verified  # late: it works with every procedure, the first picture with none

        return verified(self.store)

    def take_in(self, lines: Iterable[bytes | None]) -> int:
        """Take exported records in, all or none, and return how many were new.

        They must carry on this book's chain; those that are here already, to the last digit, are passed over.
        """
        from nonna.bench.book.adding import add_exported  # late, as what signs

        with self.store.adding() if self.exists else self.store.beginning() as adding:
            count = add_exported(adding, lines)
        self._signed += 1
        return count
