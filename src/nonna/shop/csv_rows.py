"""CSV as it stands: headers and rows of text, whole or refused."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from nonna.errors import NonnaError

MOST_ROWS = 100_000


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


def open_csv(data: bytes) -> CsvTable:
    """Read a CSV file whole.

    Raises: NonnaError ``unreadable`` (not UTF-8), ``wrong-format`` (no header, ragged rows) or ``too-large``.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NonnaError(
            "unreadable", "This is not UTF-8 text (byte {start}); save it as UTF-8.", start=error.start
        ) from error
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count)
    try:
        rows = [tuple(row) for row in csv.reader(io.StringIO(text), delimiter=delimiter) if any(c.strip() for c in row)]
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
