"""Rows of a foreign table: which column holds what is asked once, and kept in the shop's folder by the table's
headers.
"""

from __future__ import annotations

from dataclasses import dataclass

from nonna.bench.named_files import checked_in, named_file
from nonna.bench.ports import ShopFiles
from nonna.bench.tables.csv_table import FIELDS, Columns, guess, read_rows
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.csv_rows import CsvTable, RowsRead, open_csv
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import Strict

COLUMNS = "table-columns.json"


class _Mapped(Strict):
    """A mapping, as it is kept."""

    fields: dict[str, int]
    decimal_comma: bool
    inch: bool


@dataclass(frozen=True, slots=True)
class ForeignTable:
    """A table of which somebody has to say what its columns hold."""

    table: CsvTable
    columns: Columns  #: what we take them for
    questions: tuple[str, ...]


def tools_in_rows(folder: ShopFiles, data: bytes) -> RowsRead[Tool] | ForeignTable:
    """Return the tools of rows (a CSV file's, a spreadsheet's) whose columns are known, else what is to be asked.

    Raises: NonnaError (not a table, none of its rows is right, or what is kept is damaged).
    """
    table = open_csv(data)
    row = named_file(folder, COLUMNS).get(table.signature)
    columns, questions = guess(table)
    if row is None and questions:
        return ForeignTable(table, columns, tuple(questions))
    return read_rows(table, columns if row is None else _mapped(row, len(table.headers))).at_least_one()


def _mapped(row: Plain, count: int) -> Columns:
    kept = checked_in(COLUMNS, _Mapped, row)
    for name, at in kept.fields.items():
        if name not in FIELDS or not 0 <= at < count:
            words = "{columns}: there is no column {at} for {name!r} in a table with these headers."
            raise NonnaError("out-of-range", words, f"fields.{name[:40]}", columns=COLUMNS, at=at, name=name[:40])
    return Columns(dict(kept.fields), kept.decimal_comma, kept.inch)


def keep_columns(folder: ShopFiles, signature: str, columns: Columns) -> None:
    """Remember a mapping. Raises: NonnaError (it cannot be written)."""
    folder.change((COLUMNS,), lambda document: {**document, signature: columns.to_document()}, {})
