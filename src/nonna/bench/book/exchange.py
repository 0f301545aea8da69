"""Records that come from elsewhere, as open JSON lines, chain and all: checked so that nothing unsound gets in."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from pydantic import ValidationError

from nonna.bench.book.chain import is_back_dated
from nonna.bench.book.recalling import contradiction
from nonna.errors import NonnaError
from nonna.shop.records.hashing import FIRST_PREVIOUS, HEX, canonical, digest
from nonna.shop.records.text import place_in, record_of
from nonna.shop.records.values import Measurement, Record
from nonna.shop.texts import strict_json

_LONGEST_TEXT = 20_000


def records_in(lines: Iterable[bytes | None]) -> Iterator[Record]:
    """Give the records of an export, each as sound as `bench.book.chain` asks.

    Parameters: lines, one record each, read as they are needed; None for one over the limit.
    Raises: NonnaError with the line at fault.
    """
    before: Record | None = None
    for number, line in enumerate(lines, 1):
        where = f"line {number}"
        if line is None:
            raise NonnaError("too-large", "{place} is over 50 MB; no record is.", where, place=where)
        if not line.strip():
            continue
        record = _record(line, where)
        if before is not None and is_back_dated(record, before):
            words = "{place}: record {number} is dated over a day before the record it follows."
            raise NonnaError("wrong-format", words, where, place=where, number=record.number)
        before = record
        yield record


def _record(line: bytes, where: str) -> Record:
    """Return the record of one exported line. Raises: NonnaError."""
    try:
        row = strict_json.loads(line)
        text, hash_ = canonical(row["body"]), row["hash"]
        if digest(text) != hash_:
            raise NonnaError("wrong-format", "{place}: the record does not match its hash.", where, place=where)
        record = record_of(row["body"]).model_copy(update={"text": text, "hash": hash_})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        missing = first["type"] == "missing"
        words = "{place}: {name} is missing." if missing else "{place}: {name} is not what a record holds."
        code = "missing-field" if missing else "wrong-format"
        raise NonnaError(code, words, where, place=where, name=place_in(first["loc"]) or "its kind") from error
    except NonnaError as error:
        raise NonnaError(
            error.code, error.message if where in error.message else f"{where}: {error.message}", where
        ) from error
    except (LookupError, TypeError, ValueError, AttributeError, RecursionError) as error:
        raise NonnaError("wrong-format", "{place}: this is not an exported record.", where, place=where) from error
    if name := _unsound(record):
        words = "{place}: {name} is not what a record holds."
        raise NonnaError("wrong-format", words, where, place=where, name=name)
    if wrong := contradiction(record):
        raise NonnaError("wrong-format", "{place}: {words}.", where, place=where, words=wrong)
    return record


def _unsound(record: Record) -> str:
    """Return the part of a record that cannot be, "" where all can."""
    texts = (record.name, record.machine, str(record.subject), record.operator, record.note, record.shop, record.zone)
    if any(len(text) > _LONGEST_TEXT for text in texts):
        return "a text"
    if not 1 <= record.number < 2**53:
        return "number"
    if len(record.previous) != len(FIRST_PREVIOUS) or not set(record.previous) <= HEX:
        return "previous"
    if record.refers_to is not None and not 1 <= record.refers_to < record.number:
        return "refers_to"
    if not isinstance(record, Measurement):
        return ""
    if record.result.procedure != record.name:
        return "result"
    return "" if all(1 <= row.record < record.number for row in record.carried.values()) else "carried"
