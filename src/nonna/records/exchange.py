"""Records in and out of a ledger as open JSON lines, chain and all."""

from __future__ import annotations

from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.records.canonical import canonical, digest
from nonna.records.ledger import REPEATED, Ledger
from nonna.shop import strict_json


def import_records(ledger: Ledger, data: bytes) -> int:
    """Add exported records to a ledger whose chain they carry on (an empty one, or a shorter copy).

    Returns how many were added: all, or none when anything is wrong.
    Raises: NonnaError with the line at fault.
    """
    bodies = []
    for number, line in enumerate(data.splitlines(), 1):
        if line.strip():
            bodies.append(_body(line, f"line {number}"))
    ledger.adopt(bodies)
    return len(bodies)


def _body(line: bytes, where: str) -> dict[str, Any]:
    try:
        row = strict_json.loads(line)
        body: dict[str, Any] = row["body"]
        missing = [name for name in (*REPEATED, "number", "previous") if name not in body]
        if missing:
            raise NonnaError("missing-field", f"{where}: {missing[0]} is missing.", where)
        if digest(canonical(body)) != row["hash"]:
            raise NonnaError("wrong-format", f"{where}: the record does not match its hash.", where)
    except (KeyError, TypeError, ValueError) as error:
        if isinstance(error, NonnaError):
            raise
        raise NonnaError("wrong-format", f"{where}: this is not an exported record.", where) from error
    return body
