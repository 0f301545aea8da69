"""One way to write a record as bytes, so that its hash means something. Quick to load: the first picture needs it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping

HEX = frozenset("0123456789abcdef")  #: letters of a hash
FIRST_PREVIOUS = "0" * 64  #: what the first record carries in place of a predecessor's hash


def canonical(body: Mapping[str, object]) -> str:
    """Return canonical JSON: names sorted, no spaces, plain UTF-8, shortest round-trip numbers.

    Raises: ValueError (a number that is not finite).
    """
    return json.dumps(body, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)


def digest(text: str) -> str:
    """Return the SHA-256 of canonical JSON, as hexadecimal."""
    return hashlib.sha256(text.encode("utf-8", "surrogateescape")).hexdigest()
