"""The places of a rack's pockets, as a record holds them, for the control: CSV or JSON."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.shop.links.history import Standing
from nonna.shop.records.values import Record, as_measurement
from nonna.shop.texts.csv_rows import rows_csv
from nonna.shop.texts.given import Given

FORMAT = "nonna-pockets/1"
COLUMNS = ("pocket", "x_mm", "y_mm", "z_mm", "diameter_mm", "along_mm", "across_mm", "height_mm", "set_aside")


@dataclass(frozen=True, slots=True)
class Pockets:
    """The pockets of one record."""

    record: int
    signed_at: str
    machine: str
    rows: Sequence[Given]


def pockets_of(standing: Standing, read: Callable[[int], Record]) -> Pockets:
    """Return the pockets measured last on a station. Raises: NonnaError (none were; the record is damaged)."""
    entry = next(iter(standing.measured(one_offering(offers.RACK_POCKETS))), None)
    if entry is None:
        raise NonnaError("missing-field", "No rack of pockets was measured here yet.", "rack")
    record = as_measurement(read(entry.number))
    return Pockets(entry.number, record.signed_text, record.machine, record.own().rows("pockets"))


def table_text(found: Pockets, suffix: str) -> str:
    """Return them as a table by the file's ending. Raises: NonnaError (no such ending)."""
    if suffix.lower() == ".json":
        rows = [dict(row) for row in found.rows]
        whole = {
            "format": FORMAT, "machine": found.machine, "record": found.record, "signed_at": found.signed_at,
            "pockets": rows,
        }  # fmt: skip
        return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"
    if suffix.lower() != ".csv":
        raise NonnaError(
            "out-of-range", "A table of pockets ends in .csv or .json, not {value!r}.", "file", value=suffix[:10]
        )
    cells = (
        [
            row[name]
            if name == "pocket"
            else ("yes" if row[name] else "no")
            if name == "set_aside"
            else f"{row[name]:.4f}"
            for name in COLUMNS
        ]
        for row in found.rows
    )
    return rows_csv([COLUMNS, *cells])
