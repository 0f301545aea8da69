"""CSV as it stands: headers and rows of text, whole or refused."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Generic, Self, TypeVar

from nonna.errors import NonnaError

MOST_ROWS = 100_000
T = TypeVar("T")
_STARTS = "=+-@\t\r\n"  #: of what spreadsheets run


@dataclass(frozen=True, slots=True)
class CsvTable:
    """A file as it stands: headers and rows of text."""

    headers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    delimiter: str

    @property
    def signature(self) -> str:
        """What a mapping is remembered by: the headers themselves."""
        return "|".join(h.strip().lower() for h in self.headers)


@dataclass(frozen=True, slots=True)
class RowsRead(Generic[T]):
    """What the rows of a file hold, and which hold nothing that can be read."""

    rows: tuple[T, ...]
    wrong: tuple[NonnaError, ...] = ()  #: of each row that cannot be read, which and why

    def at_least_one(self) -> Self:
        """Return itself. Raises: NonnaError of the first row, where no row can be read."""
        if self.wrong and not self.rows:
            raise self.wrong[0]
        return self


def read_each(table: CsvTable, read: Callable[[int, tuple[str, ...]], T]) -> RowsRead[T]:
    """Read a table row by row, as far as it can be read.

    Parameters: read, of a row's number in its file and its cells; raises NonnaError where it cannot be read.
    """
    made: list[T] = []
    wrong: list[NonnaError] = []
    for i, row in enumerate(table.rows, 2):
        try:
            made.append(read(i, row))
        except NonnaError as error:
            wrong.append(error)
    return RowsRead(tuple(made), tuple(wrong))


def rows_csv(rows: Iterable[Sequence[object]]) -> str:
    """Return rows as CSV; a text that a spreadsheet would run as a formula has an apostrophe before it, as they know
    it.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for row in rows:
        writer.writerow([_harmless(cell) if isinstance(cell, str) else cell for cell in row])
    return out.getvalue()


def _harmless(text: str) -> str:
    return f"'{text}" if _runs(text) else text


def _runs(text: str) -> bool:
    """Whether a spreadsheet would take a text for a formula, or an apostrophe before one for the mark of `rows_csv`."""
    start = text.lstrip(" \u00a0")[:1]
    if start == "'":
        return _runs(text.lstrip(" \u00a0")[1:])
    return start in _STARTS and start != "" and not _is_number(text)


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def _as_meant(text: str) -> str:
    """Return a cell without the mark that `rows_csv` put before it."""
    return text[1:] if text.startswith("'") and _runs(text[1:]) else text


def open_csv(data: bytes) -> CsvTable:
    """Read a CSV file whole.

    Raises: NonnaError ``unreadable`` (not UTF-8), ``wrong-format`` (no header, ragged rows) or ``too-large``.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NonnaError(
            "unreadable",
            "This is no plain text (UTF-8): what stands at byte {start} is no letter. Save it as CSV, UTF-8.",
            start=error.start,
        ) from error
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count)
    try:
        read = csv.reader(io.StringIO(text), delimiter=delimiter)
        rows = [tuple(map(_as_meant, row)) for row in read if any(cell.strip() for cell in row)]
    except csv.Error as error:
        raise NonnaError("wrong-format", "This is not CSV: {error}.", error=error) from error
    if len(rows) < 1 or len(rows[0]) < 2:
        raise NonnaError("wrong-format", "This is no table: a line of headers with at least two columns is wanted.")
    if len(rows) > MOST_ROWS:
        raise NonnaError("too-large", "This has {count:,} rows; no changer is that large.", count=len(rows))
    for i, row in enumerate(rows[1:], 2):
        if len(row) > len(rows[0]):
            raise NonnaError(
                "wrong-format",
                "row {i}: {count} cells under {count_2} headers.",
                f"row {i}",
                i=i,
                count=len(row),
                count_2=len(rows[0]),
            )
    width = len(rows[0])
    return CsvTable(rows[0], tuple(row + ("",) * (width - len(row)) for row in rows[1:]), delimiter)
