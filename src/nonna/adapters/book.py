"""A shop's book in its ledger file: quick looks through the standard library alone, signing through the whole ledger."""

from __future__ import annotations

import tempfile
from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from nonna.adapters.glance import Row, entries, minutes, record_of_draft
from nonna.adapters.marks import is_settled, ledger_marks
from nonna.errors import NonnaError
from nonna.shop.history import Entry, Standing, standing

if TYPE_CHECKING:
    from nonna.adapters.ledger import Ledger
    from nonna.adapters.record_reader import Reader
    from nonna.bench.record import ChainCheck, Receipt, Record


class _Looked(NamedTuple):
    """What was read of a ledger at one moment, and what was worked out from it since."""

    marks: tuple[int, ...]
    entries: tuple[Entry, ...]
    standing: dict[tuple[str, str, bool], Standing]
    minutes: dict[str, dict[str, float]]


class LedgerBook:
    """Fills the port `bench.ports.Book`."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._reader: Reader | None = None
        self._looked: _Looked | None = None
        self._signed = 0  #: times that this book was written to from here
        self._known: dict[Row, Entry] = {}
        self._clock_is_right = False

    @property
    def exists(self) -> bool:
        """Whether anything was ever signed."""
        return self.path.is_file()

    def marks(self) -> tuple[int, ...]:
        """Return what changes whenever somebody signs."""
        return (*ledger_marks(self.path), is_settled(self.path), self._signed)

    def entries(self) -> tuple[Entry, ...]:
        """Return a row a record, oldest first. Raises: NonnaError."""
        return self._look().entries

    def standing(self, station: str, home: str, *, practice: bool) -> Standing:
        """Return a station's rows that count. Raises: NonnaError."""
        looked, key = self._look(), (station, home, practice)
        if key not in looked.standing:
            looked.standing[key] = standing(looked.entries, station, home, practice=practice)
        return looked.standing[key]

    def _look(self) -> _Looked:
        """Read again only where the file changed."""
        marks = self.marks()  # before it is read: what is signed meanwhile is seen next time
        looked = self._looked
        if looked is None or looked.marks != marks:
            looked = self._looked = _Looked(marks, entries(self.path, self._known), {}, {})
        return looked

    def reader(self) -> Reader:
        """Return what reads whole records; what stands in the file as before is not checked once more."""
        from nonna.adapters.record_reader import Reader  # late: the first picture of the desk looks into no record

        if self._reader is None:
            self._reader = Reader(self.path)
        self._reader = self._reader.renewed()
        return self._reader

    def minutes(self, station: str) -> dict[str, float]:
        """Return the technician's own minutes by procedure. Raises: NonnaError."""
        learned = self._look().minutes
        if station not in learned:
            learned[station] = minutes(self.path, station)
        return learned[station]

    def record_of_draft(self, draft: str) -> int | None:
        """Return the record that came from a tape that was kept. Raises: NonnaError."""
        return record_of_draft(self.path, draft)

    def withdrawal_of(self, number: int) -> int | None:
        """Return the record that took one back. Raises: NonnaError."""
        return next((e.number for e in self.entries() if e.kind == "withdrawal" and e.refers_to == number), None)

    def clock_is_right(self) -> None:
        """Take the next signature's time though it is far from the last record's: somebody looked at the clock."""
        self._clock_is_right = True

    def sign(self, bodies: Iterable[dict[str, Any]]) -> tuple[Receipt, ...]:
        """Add records, all or none. Raises: NonnaError."""
        right, self._clock_is_right = self._clock_is_right, False
        with self._open() as ledger:
            receipts = ledger.sign_all(bodies, clock_is_right=right)
        self._signed += 1  # the file changes before a commit can be read: who looked in between looks again
        if self._looked is not None and receipts:
            with suppress(
                NonnaError, OSError
            ):  # it is signed: what is wrong with the book else, the next look will say
                self._look()  # here, where nobody waits for it
                self.reader().read_ahead(receipts[-1].number)
        return receipts

    def get(self, reference: str | int) -> Record:
        """Return a record by number, or by the beginning of its hash. Raises: NonnaError."""
        with self._open(reading=True) as ledger:
            return ledger.get(reference)

    def all(self) -> Iterator[Record]:
        """Yield every record, oldest first. Raises: NonnaError."""
        with self._open(reading=True) as ledger:
            yield from ledger.all()

    def verify(self) -> ChainCheck:
        """Check the whole chain. Raises: NonnaError."""
        with self._open(reading=True) as ledger:
            return ledger.verify()

    def take_in(self, lines: Iterable[bytes | None]) -> int:
        """Take exported records in, all or none. Raises: NonnaError."""
        from nonna.adapters.exchange import import_records
        from nonna.adapters.ledger_file import must_be_writable

        if self.exists:
            must_be_writable(self.path)
            with self._open() as ledger:
                count = import_records(ledger, lines)
        else:
            count = self._begun_with(lines)
        self._signed += 1
        return count

    def _begun_with(self, lines: Iterable[bytes | None]) -> int:
        """Make the ledger from exported records: a refused import leaves nothing behind."""
        from nonna.adapters.exchange import import_records
        from nonna.adapters.ledger import Ledger
        from nonna.adapters.ledger_file import put_in_place

        with tempfile.TemporaryDirectory(prefix="nonna-") as place:
            fresh = Path(place) / self.path.name
            with Ledger(fresh) as ledger:
                count = import_records(ledger, lines)
            put_in_place(fresh, self.path)
        return count

    def _open(self, *, reading: bool = False) -> Ledger:
        from nonna.adapters.ledger import Ledger

        return Ledger(self.path, create=not reading, reading=reading)
