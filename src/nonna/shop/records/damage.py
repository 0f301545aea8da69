"""What may be wrong with a record, or with reading it."""

from __future__ import annotations

from typing import Never

from nonna.errors import NonnaError


class NotRead(NonnaError):  # noqa: N818 - nothing is wrong with it
    """A record is wanted where no disk may be waited for, and it was not read yet: it is there in a moment."""

    def __init__(self, number: int) -> None:
        super().__init__("unreadable", "Record {number} is still being read.", "record", number=number)


def not_read(number: int) -> Never:
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
