"""A stored record: its number, its hash and its text, which is only believed when they agree."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from nonna.bench.canonical import canonical, digest
from nonna.errors import NonnaError

REPEATED = (
    "signed_at",
    "kind",
    "name",
    "machine",
    "subject",
    "verdict",
    "operator",
    "value_mm",
    "expanded_mm",
    "refers_to",
    "note",
)
"""Parts of the body that also stand in columns of their own."""
LISTED = tuple(name for name in REPEATED if name != "note")


class NotRead(NonnaError):  # noqa: N818 - nothing is wrong with it
    """A record is wanted where no disk may be waited for, and it was not read yet: it is there in a moment."""

    def __init__(self, number: int) -> None:
        super().__init__("unreadable", "Record {number} is still being read.", "record", number=number)


def not_read(number: int) -> Record:
    """Return no record: none was looked into. Raises: NotRead."""
    raise NotRead(number)


class DamagedRecordError(NonnaError):
    """A stored record is not what was signed."""

    def __init__(self, number: object, reason: str) -> None:
        super().__init__(
            "unreadable",
            "Record {number} is damaged: {reason}. Keep the file and fetch a copy.",
            "record",
            number=number,
            reason=reason,
        )
        self.number, self.reason = number, reason


@dataclass(frozen=True, slots=True)
class Record:
    """One record as it stands in the ledger."""

    number: int
    hash: str
    body: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Receipt:
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


def checked(number: object, hash_: object, text: object) -> Record:
    """Return a record whose text fits its hash and is a record. Raises: DamagedRecordError."""
    if not isinstance(text, str) or digest(text) != hash_:
        raise DamagedRecordError(number, "its text does not match its hash")
    try:
        body = json.loads(text)
        if not isinstance(body, dict) or canonical(body) != text or text.encode().decode() != text:
            raise ValueError
    except (ValueError, RecursionError) as error:
        raise DamagedRecordError(number, "its text is not a record") from error
    if type(number) is not int or body.get("number") != number:
        raise DamagedRecordError(number, "its number does not match its text")
    return Record(number, str(hash_), body)


def exported(record: Record) -> dict[str, Any]:
    """Return a record as a line of an export."""
    return {"hash": record.hash, "body": record.body}
