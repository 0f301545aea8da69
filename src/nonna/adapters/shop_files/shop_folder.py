"""A shop's folder: which file is where, read quickly for a first look or checked whole."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.adapters.files.marks import marks_of
from nonna.adapters.files.reading import read_bytes
from nonna.adapters.files.shared_file import change
from nonna.adapters.shop_files.drafts import DraftFile, left_in
from nonna.adapters.store.sqlite.store import SqliteStore
from nonna.bench.book.book import Book
from nonna.errors import NonnaError
from nonna.shop.texts import strict_json
from nonna.shop.texts.given import Document, Given

if TYPE_CHECKING:
    from nonna.adapters.shop_files.checked_files import CheckedFiles
    from nonna.shop.cards.gear import Gear
    from nonna.shop.cards.machine import Machine, Tools
    from nonna.shop.cards.masters import Shelf, Shop
    from nonna.shop.cards.rules import Rules
    from nonna.shop.links.subjects import Subject


OF_THE_SHOP = ("shop.json", "masters.json", "gear.json", "rules.json", "touch-wishes.json")


@dataclass(frozen=True, slots=True)
class ShopFolder:
    """Fills the port `bench.ports.ShopFiles`: paths and readers of one shop."""

    root: Path
    book: Book = field(init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "book", Book(SqliteStore(self.ledger)))

    @property
    def ledger(self) -> Path:
        """The file of records."""
        return self.root / "ledger.sqlite"

    @property
    def has_files(self) -> bool:
        """Whether it is a shop with files of its own, not a ledger alone."""
        return (self.root / "shop.json").is_file()

    def marks(self, station: str) -> tuple[int, ...]:
        """Return when the files of a station were changed last, the ledger aside; anything else means a change."""
        own = (self.root / "machines" / f"{station}.json", self.root / "tools" / f"{station}.json")
        return marks_of(*(self.root / name for name in OF_THE_SHOP), *own)

    def has(self, *parts: str) -> bool:
        """Say whether there is a file."""
        return self.root.joinpath(*parts).exists()

    def change(self, parts: tuple[str, ...], make: Callable[[Given], Document], fresh: Document | None = None) -> Given:
        """Replace a file by what ``make`` makes of it, with nobody in between; return that. Raises: NonnaError."""
        return change(self, parts, make, fresh)

    def draft(self, station: str, procedure: str, subject: Subject) -> DraftFile:
        """Return a place for the tape of a sheet that nobody else has in hand."""
        return DraftFile(self.root, station, procedure, subject)

    def drafts_left(self) -> tuple[tuple[str, Given | None], ...]:
        """Return the tapes that nobody has in hand, each with its name; None for one that cannot be read."""
        return left_in(self.root)

    def templates(self) -> Mapping[str, str] | None:
        """Return the shop's own program templates by name, None where it has none. Raises: NonnaError."""
        from nonna.adapters.shop_files.templates import read_templates

        return read_templates(self.root / "templates")

    def document(self, *parts: str) -> Given:
        """Return the object in a file, unchecked. Raises: NonnaError naming the file."""
        path = self.root.joinpath(*parts)
        try:
            return strict_json.loads_object(read_bytes(path))
        except NonnaError as error:
            raise NonnaError(
                error.code, "{names}: {words}", error.where, names="/".join(parts), words=error.message
            ) from error

    def shop(self) -> Shop:
        """Return who and what the shop is. Raises: NonnaError."""
        return self._checked.shop()

    def shelf(self) -> Shelf:
        """Return the masters. Raises: NonnaError."""
        return self._checked.shelf()

    def gear(self) -> Gear:
        """Return indicators, setters and probes; a shop without the file has none. Raises: NonnaError."""
        return self._checked.gear()

    def rules(self) -> Rules:
        """Return what the shop decided for itself; a shop without the file decided nothing. Raises: NonnaError."""
        return self._checked.rules()

    def machine(self, name: str) -> Machine:
        """Return a machine by its file name. Raises: NonnaError."""
        return self._checked.machine(name)

    def tools(self, machine: str) -> Tools:
        """Return a machine's tools. Raises: NonnaError."""
        return self._checked.tools(machine)

    @property
    def _checked(self) -> CheckedFiles:
        from nonna.adapters.shop_files.checked_files import CheckedFiles  # late: the first picture needs no model

        return CheckedFiles(self.document, self.has)
