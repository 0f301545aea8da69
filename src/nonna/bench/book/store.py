"""What the book asks of whoever stores its records: a few questions, and to add in order. Adapters fill it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import AbstractContextManager
from typing import TYPE_CHECKING, NamedTuple, Protocol

if TYPE_CHECKING:
    from nonna.shop.records.values import Record


class Stored(NamedTuple):
    """A row as it stands; whether it is what was signed, its reader finds out."""

    number: int
    hash: str
    text: object  #: a text, where nobody got at it


class Beside(NamedTuple):
    """What a store keeps beside a record to find it by: it only finds, and says nothing by itself."""

    previous: object
    columns: dict[str, object]


class Adding(Protocol):
    """Adds records at the end of a chain, with nobody in between."""

    @property
    def last(self) -> Stored | None:
        """The newest record there is, None where there is none yet."""

    @property
    def highest(self) -> int:
        """The highest number ever given out, where the store remembers that; else the newest one's."""

    def hash_of(self, number: int) -> str | None:
        """Return the hash of a record that is there."""

    def add(self, record: Record) -> None:
        """Add a record that has its place, its text and its hash."""


class Store(Protocol):
    """Keeps records in their order. Everything may raise NonnaError ``unreadable``."""

    @property
    def name(self) -> str:
        """What a person calls it, such as its file's name."""

    @property
    def exists(self) -> bool:
        """Whether anything was ever stored."""

    def marks(self) -> tuple[int, ...]:
        """Return what changes whenever somebody adds, and once more when it can surely be read."""

    def heads(self) -> tuple[tuple[int, str], ...]:
        """Return number and hash of each record, in order."""

    def rows(self, first: int, last: int) -> Iterator[Stored]:
        """Give the rows with these numbers that are there, in order, a page at a time."""

    def rows_beside(self) -> Iterator[tuple[Stored, Beside]]:
        """Give all rows, in order, with what is kept beside them."""

    def starting_with(self, hash_: str) -> tuple[Stored, ...]:
        """Return the rows whose hash begins so, at most two."""

    def newest_of(self, machine: str, most: int) -> Iterator[Stored]:
        """Give the newest measurements of a machine, newest first."""

    def with_words(self, words: str) -> Iterator[Stored]:
        """Give the measurements that have these words in their text, newest first."""

    def adding(self) -> AbstractContextManager[Adding]:
        """Let records be added, all of a block or none; the store is made where there is none."""

    def beginning(self) -> AbstractContextManager[Adding]:
        """As `adding` to a store that is not there yet: nothing of it is left where the block fails."""

    def damage(self) -> tuple[int, str]:
        """Return the highest number ever given out, and what is wrong with the store itself, "" where nothing is."""
