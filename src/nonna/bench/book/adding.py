"""Records put behind the last one of a chain: signed here, or exported elsewhere."""

from __future__ import annotations

from collections.abc import Iterable

from nonna.bench.book.chain import Receipt, is_back_dated, unbroken_end, with_clock_said
from nonna.bench.book.exchange import records_in
from nonna.bench.book.store import Adding
from nonna.errors import NonnaError
from nonna.shop.records.hashing import FIRST_PREVIOUS
from nonna.shop.records.text import placed
from nonna.shop.records.values import Record


def add_all(adding: Adding, records: Iterable[Record], receipts: list[Receipt], *, clock_is_right: bool) -> None:
    """Add records that are signed here; a receipt each goes into a list at once, for those that refer to one before.

    Raises: NonnaError (a time far from the last record's, records at the end are gone), ValueError (a number not
    finite).
    """
    before = unbroken_end(adding)
    for record in records:
        before = _behind(with_clock_said(record, before, clock_is_right=clock_is_right), before)
        adding.add(before)
        receipts.append(Receipt(before.number, before.hash))


def add_exported(adding: Adding, lines: Iterable[bytes | None]) -> int:
    """Add exported records that carry a chain on, and return how many were new.

    Those that are here already, to the last digit, are passed over. Raises: NonnaError with the line at fault.
    """
    added, before = 0, unbroken_end(adding)
    for record in records_in(lines):
        last = before.number if before is not None else 0
        if record.number <= last and not added and adding.hash_of(record.number) == record.hash:
            continue
        if record.number != last + 1 or record.previous != (before.hash if before is not None else FIRST_PREVIOUS):
            words = "Record {number} does not follow record {last}, the last one here."
            raise NonnaError("wrong-format", words, number=record.number, last=last)
        if before is not None and is_back_dated(record, before):
            words = "Record {number} is dated over a day before record {last}, which it follows."
            raise NonnaError("wrong-format", words, number=record.number, last=last)
        adding.add(record)
        before, added = record, added + 1
    return added


def _behind(record: Record, before: Record | None) -> Record:
    """Return a record with its place behind another one."""
    if before is None:
        return placed(record, 1, FIRST_PREVIOUS)
    return placed(record, before.number + 1, before.hash)
