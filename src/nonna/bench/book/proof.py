"""Whether a book is what was signed: each record, its place in the chain, what stands beside it, and the store
itself.
"""

from __future__ import annotations

from nonna.bench.book.chain import ChainCheck, is_back_dated
from nonna.bench.book.recalling import contradiction
from nonna.bench.book.store import Beside, Store, Stored
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.hashing import FIRST_PREVIOUS
from nonna.shop.records.text import body_of, read
from nonna.shop.records.values import Record


def verified(store: Store) -> ChainCheck:
    """Check a store from its first record to its last; the first thing that is wrong is named. Raises: NonnaError."""
    before: Record | None = None
    count = 0
    for stored, beside in store.rows_beside():
        try:
            before = _sound(stored, beside, before, count + 1)
        except DamagedRecordError as error:
            return ChainCheck(False, count, count + 1, error.reason)
        count += 1
    highest, damage = store.damage()
    if highest > count:
        return ChainCheck(False, count, count + 1, f"record {count + 1} is gone; {highest} were signed")
    return ChainCheck(not damage, count, None, damage)


def _sound(stored: Stored, beside: Beside, before: Record | None, expected: int) -> Record:
    """Return a record that is what was signed, and follows the one before. Raises: DamagedRecordError."""
    if stored.number != expected:
        raise DamagedRecordError(expected, f"record {expected} is gone")
    record = read(stored.number, stored.hash, stored.text)
    if not beside.previous == record.previous == (before.hash if before is not None else FIRST_PREVIOUS):
        raise DamagedRecordError(expected, "it does not follow the record before it")
    body = body_of(record)
    for name, value in beside.columns.items():
        if name not in body or type(body[name]) is bool or body[name] != value:
            raise DamagedRecordError(expected, f"its column {name} does not match its text")
    if before is not None and is_back_dated(record, before):
        raise DamagedRecordError(expected, "it is dated over a day before the record it follows, and nobody said why")
    if wrong := contradiction(record):
        raise DamagedRecordError(expected, wrong)
    return record
