"""What the bench needs of the world outside. The real ones are plugged in at one place (`nonna.plugged`)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple, Protocol

if TYPE_CHECKING:
    from nonna.bench.record import ChainCheck, Receipt, Record
    from nonna.shop.gear import Gear
    from nonna.shop.history import Entry, Standing
    from nonna.shop.machine import Machine, Tools
    from nonna.shop.masters import Shelf, Shop
    from nonna.shop.rules import Rules
    from nonna.shop.subjects import Subject


class Copied(NamedTuple):
    """A copy of a shop that was opened and found sound."""

    path: Path
    shop: str
    records: int
    last: str  #: when its last record was signed, ISO; "" for none


class RecordReader(Protocol):
    """Gives whole records of a book as it was at one moment."""

    def __call__(self, number: int) -> Record:
        """Return a record, read from the disk where nobody asked for it yet. Raises: NonnaError (it is damaged)."""

    def known(self, number: int) -> Record:
        """Return a record that was read before. Raises: NotRead."""


class Book(Protocol):
    """The signed records of a shop. Everything may raise NonnaError ``unreadable``."""

    @property
    def exists(self) -> bool:
        """Whether anything was ever signed."""

    def marks(self) -> tuple[int, ...]:
        """Return what changes whenever somebody signs, and once more when it can surely be read."""

    def entries(self) -> tuple[Entry, ...]:
        """Return a row a record, oldest first."""

    def standing(self, station: str, home: str, *, practice: bool) -> Standing:
        """Return a station's rows that count; those that name no station belong to the home.

        Parameters: practice, whether the shop is invented; in another what was signed in one does not count.
        """

    def reader(self) -> RecordReader:
        """Return what reads whole records by number, as they stand now, each checked against its hash."""

    def minutes(self, station: str) -> dict[str, float]:
        """Return the technician's own minutes by procedure."""

    def record_of_draft(self, draft: str) -> int | None:
        """Return the record that came from a tape that was kept, None where it was not signed."""

    def withdrawal_of(self, number: int) -> int | None:
        """Return the record that took one back, None where it counts."""

    def clock_is_right(self) -> None:
        """Take the next signature's time though it is far from the last record's: somebody looked at the clock."""

    def sign(self, bodies: Iterable[dict[str, Any]]) -> tuple[Receipt, ...]:
        """Add records, all or none; when this returns they are safely stored.

        A time far from the last record's is refused (``where``: ``signed_at``) until `clock_is_right` was said.
        """

    def get(self, reference: str | int) -> Record:
        """Return a record by number, or by the beginning of its hash."""

    def all(self) -> Iterator[Record]:
        """Yield every record, oldest first."""

    def verify(self) -> ChainCheck:
        """Check the whole chain."""

    def take_in(self, lines: Iterable[bytes | None]) -> int:
        """Take exported records in, all or none; say how many were new."""


class Crash(NamedTuple):
    """A run of the program that did not end by itself."""

    shop: Path
    begun: datetime
    report: Path  #: what is known of it


class Journal(Protocol):
    """Writes down what happens, for whoever has to mend the program."""

    def begin(self, shop: Path, now: Callable[[], datetime]) -> tuple[Crash, ...]:
        """Begin to write; return the runs that ended unexpectedly since the last time."""

    def end(self) -> None:
        """End as a program does that was closed."""


class DraftPlace(Protocol):
    """Where the tape of one open sheet is kept until it is signed or thrown away."""

    @property
    def held(self) -> bool:
        """Whether it may be written."""

    def read(self) -> Any:
        """Return what was left here, None where nothing was."""

    def write(self, text: str) -> None:
        """Keep a tape; when this returns the disk has it."""

    def forget(self) -> None:
        """Throw it away."""

    def let_go(self) -> None:
        """Leave what is kept to whoever opens the sheet next."""


class ShopFiles(Protocol):
    """The files of a shop, checked when they are read. Everything may raise NonnaError naming the file."""

    @property
    def root(self) -> Path:
        """Where they are; its name is what a person calls the shop's folder."""

    @property
    def book(self) -> Book:
        """The shop's records."""

    @property
    def has_files(self) -> bool:
        """Whether it is a shop with files of its own, not a book alone."""

    def has(self, *parts: str) -> bool:
        """Say whether there is a file."""

    def document(self, *parts: str) -> Any:
        """Return a file's JSON unchecked."""

    def change(self, parts: tuple[str, ...], make: Callable[[Any], Any], fresh: Any = None) -> Any:
        """Replace a file by what ``make`` makes of it, with nobody in between; return that."""

    def marks(self, station: str) -> tuple[int, ...]:
        """Return what changes whenever a file of a station does."""

    def draft(self, station: str, procedure: str, subject: Subject) -> DraftPlace:
        """Return a place for the tape of a sheet that nobody else has in hand."""

    def drafts_left(self) -> tuple[tuple[str, Any], ...]:
        """Return the tapes that nobody has in hand, each with its name; None for one that cannot be read."""

    def templates(self) -> Mapping[str, str] | None:
        """Return the shop's own program templates by name, None where it has none."""

    def shop(self) -> Shop:
        """Return who and what the shop is."""

    def shelf(self) -> Shelf:
        """Return the masters."""

    def rules(self) -> Rules:
        """Return what the shop decided for itself; nothing where there is no such file."""

    def gear(self) -> Gear:
        """Return indicators, setters and probes."""

    def machine(self, name: str) -> Machine:
        """Return a machine by its file name."""

    def tools(self, machine: str) -> Tools:
        """Return a machine's tools."""
