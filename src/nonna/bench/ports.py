"""What the bench needs of the world outside. The real ones are plugged in at one place (`nonna.wiring`)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, Protocol

from nonna.shop.texts.given import Document, Given

if TYPE_CHECKING:
    from nonna.bench.book.book import Book
    from nonna.shop.cards.gear import Gear
    from nonna.shop.cards.machine import Machine, Tools
    from nonna.shop.cards.masters import Shelf, Shop
    from nonna.shop.cards.rules import Rules
    from nonna.shop.links.subjects import Subject


class Copied(NamedTuple):
    """A copy of a shop that was opened and found sound."""

    path: Path
    shop: str
    records: int
    last: str  #: when its last record was signed, ISO; "" for none


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

    def read(self) -> Given | None:
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

    def document(self, *parts: str) -> Given:
        """Return the object in a file, unchecked."""

    def change(self, parts: tuple[str, ...], make: Callable[[Given], Document], fresh: Document | None = None) -> Given:
        """Replace a file by what ``make`` makes of it, with nobody in between; return that."""

    def marks(self, station: str) -> tuple[int, ...]:
        """Return what changes whenever a file of a station does."""

    def draft(self, station: str, procedure: str, subject: Subject) -> DraftPlace:
        """Return a place for the tape of a sheet that nobody else has in hand."""

    def drafts_left(self) -> tuple[tuple[str, Given | None], ...]:
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
