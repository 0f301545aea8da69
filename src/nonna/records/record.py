"""A stored record: its number, its hash and its text, which is only believed when they agree."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.records.canonical import canonical, digest


class DamagedRecordError(NonnaError):
    """A stored record is not what was signed."""

    def __init__(self, number: object, reason: str) -> None:
        super().__init__(
            "unreadable", f"Record {number} is damaged: {reason}. Keep the file and fetch a copy.", "record"
        )
        self.number, self.reason = number, reason


@dataclass(frozen=True, slots=True)
class Record:
    """One record as it stands in the ledger."""

    number: int
    hash: str
    body: Mapping[str, Any]


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
