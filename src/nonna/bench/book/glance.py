"""The book at a glance: what its records say of themselves, one short row each, enough to judge the links.

Parsed by hand: a model of it would load pydantic before the first picture, 180 of 370 ms (measured in turn).
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import suppress
from datetime import datetime
from types import NoneType

from nonna.bench.book.store import Store, Stored
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.history import MASTER_EVENT, Entry
from nonna.shop.links.subjects import Subject, SubjectKind, master
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.hashing import FIRST_PREVIOUS, digest
from nonna.shop.texts.given import Given, Plain

LEARNED_FROM, LEARNED_LEAST, LEARNED_OF = 7, 3, 400  #: sheets of a kind; at least; of so many newest ones
SHORTEST_MIN, LONGEST_MIN = 0.5, 90.0
Head = tuple[int, str]  #: number and hash


_WANTED: dict[str, tuple[type, ...]] = {  #: what stands in a field that is looked at; None where it may be absent
    "number": (int,), "kind": (str,), "name": (str,), "machine": (str,), "subject": (str,), "verdict": (str,),
    "signed_at": (str,),
    "operator": (str,), "value_mm": (float, int, NoneType), "expanded_mm": (float, int, NoneType),
    "refers_to": (int, NoneType),
    "note": (str,), "previous": (str,),
}  # fmt: skip


def entries(store: Store, known: dict[Head, Entry]) -> tuple[Entry, ...]:
    """Return one row a record, oldest first; nothing where there is no book yet.

    Each is taken from the text that was signed, whose hash and place in the chain are checked.
    Parameters: known, what was read and checked before; new rows are added to it.
    Raises: NonnaError (it cannot be read), DamagedRecordError (a record is not what was signed, or is gone).
    """
    if not store.exists:
        return ()
    heads = store.heads()
    for expected, (number, _) in enumerate(heads, 1):
        if number != expected:
            raise DamagedRecordError(expected, "it is gone")
    new = [number for number, hash_ in heads if (number, hash_) not in known]
    if new:
        hashes = (FIRST_PREVIOUS, *(hash_ for _, hash_ in heads))
        for stored in store.rows(new[0], new[-1]):
            known[stored.number, stored.hash] = _entry(stored, hashes[stored.number - 1])
    return tuple(known[head] for head in heads)


def _entry(stored: Stored, previous: str) -> Entry:
    """Return a row from the text that was signed. Raises: DamagedRecordError."""
    if not isinstance(stored.text, str) or digest(stored.text) != stored.hash:
        raise DamagedRecordError(stored.number, "its text does not match its hash")
    try:
        body = json.loads(stored.text)
        for name, wanted in _WANTED.items():
            if type(body[name]) not in wanted:
                raise TypeError(f"its {name} is not what it should be")
        entry = _seen(Given(body))
    except (KeyError, IndexError, TypeError, ValueError, RecursionError) as error:
        raise DamagedRecordError(stored.number, f"its text is not a record ({error})") from error
    if entry.number != stored.number:
        raise DamagedRecordError(stored.number, "its number does not match its text")
    if body["previous"] != previous:
        raise DamagedRecordError(stored.number, "it does not follow the record before it")
    return entry


def _seen(body: Given) -> Entry:
    """Return a record's row as the loop's judge reads it. Raises: ValueError (its date is none)."""
    value, subject, kind, name = (
        body.number("value_mm"), Subject.of(body.text("subject")), body.text("kind"), body.text("name"),
    )  # fmt: skip
    listed, refers_to = PROCEDURES.get(name), body.number("refers_to")
    main = listed.older_main if listed is not None else ""
    if kind == "measurement" and main and body.get("order") and _first_of(body["order"]) != main:
        value = None  # older records were looked up by whatever result came first: such a value is none
    if kind == "event" and name.startswith(MASTER_EVENT) and subject.kind is SubjectKind.OTHER:
        subject = master(body.text("subject"))  # older records name a master by its id alone
    return Entry(
        int(body.needed("number")), kind, name, body.text("machine"), subject, body.text("verdict"),
        datetime.fromisoformat(body.text("signed_at")), body.text("operator"), value, body.number("expanded_mm"),
        None if refers_to is None else int(refers_to), body.text("note"), body.get("invented") is True,
    )  # fmt: skip


def _first_of(order: Plain) -> str:
    """Return the name of the first result in the order that a record states. Raises: TypeError, IndexError."""
    if not isinstance(order, list) or not isinstance(order[0], list):
        raise TypeError("its order is not what it should be")
    return str(order[0][0])


def minutes(store: Store, machine: str) -> dict[str, float]:
    """Return the technician's own minutes by procedure: from first reading to signing, median of the last few.

    Only procedures with at least three records that took time count. Raises: NonnaError.
    """
    spans: dict[str, list[float]] = {}
    for name, span in _spans(store, machine) if store.exists else ():
        taken = spans.setdefault(name, [])
        if len(taken) < LEARNED_FROM and SHORTEST_MIN <= span <= LONGEST_MIN:  # else it was practice, or lunch
            taken.append(span)
    return {name: sorted(found)[len(found) // 2] for name, found in spans.items() if len(found) >= LEARNED_LEAST}


def _spans(store: Store, machine: str) -> Iterator[tuple[str, float]]:
    for stored in store.newest_of(machine, LEARNED_OF):
        with suppress(KeyError, TypeError, ValueError, IndexError):  # a damaged one teaches nothing; others say it
            body = json.loads(str(stored.text))
            if body["machine"] == machine and (first := body["tape"][0]["at"]):
                begun, signed = datetime.fromisoformat(first), datetime.fromisoformat(body["signed_at"])
                yield body["name"], (signed - begun).total_seconds() / 60.0
