"""Whether the next record may be put behind the last one of a chain."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple

from nonna.bench.book.store import Adding
from nonna.errors import NonnaError
from nonna.shop.records.text import read
from nonna.shop.records.values import ClockSaid, Record

CLOCKS_APART = timedelta(days=1)  #: two computers' clocks are never further apart; a record before that is back-dated
FAR_AHEAD = timedelta(days=366)  #: a year without a record is seldom, a clock that lost its year is not


class Receipt(NamedTuple):
    """What signing gives back, once the record is safely stored."""

    number: int
    hash: str


@dataclass(frozen=True, slots=True)
class ChainCheck:
    """Whether the chain holds, and if not, which record is the first that does not."""

    sound: bool
    count: int
    first_damaged: int | None = None
    reason: str = ""


def is_back_dated(record: Record, before: Record) -> bool:
    """Whether a record is dated before the one it follows, and nobody said why."""
    return record.clock is None and record.signed_at < before.signed_at - CLOCKS_APART


def unbroken_end(adding: Adding) -> Record | None:
    """Return the last record of a chain that may be carried on. Raises: NonnaError (records at its end are gone)."""
    last = adding.last
    number = last.number if last is not None else 0
    if adding.highest > number:
        words = (
            "Record {value} is gone, {highest} were signed: nothing is added to a book with pages missing. "
            "Fetch a copy."
        )
        raise NonnaError("unreadable", words, "ledger", value=number + 1, highest=adding.highest)
    return read(*last) if last is not None else None


def with_clock_said(record: Record, before: Record | None, *, clock_is_right: bool) -> Record:
    """Return a record that may follow another; one dated far from it says so where somebody said the clock is right.

    Raises: NonnaError (its time is far from the last record's; ``where``: ``signed_at``).
    """
    if before is None or not (is_back_dated(record, before) or record.signed_at - before.signed_at > FAR_AHEAD):
        return record
    if not clock_is_right:
        raise _far(record.signed_at, before)
    said = ClockSaid(record=before.number, signed_at=str(before.signed_at))
    return record.model_copy(update={"clock": said})


def _far(signed: datetime, before: Record) -> NonnaError:
    words = (
        "By this computer it is {signed:%d %b %Y %H:%M}, but record {last} was signed {newest:%d %b %Y "
        "%H:%M}: if it is not, set the clock, then sign. If it is, say so."
    )
    return NonnaError("out-of-range", words, "signed_at", signed=signed, last=before.number, newest=before.signed_at)
