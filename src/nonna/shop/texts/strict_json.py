"""JSON read whole or not at all: no doubled names, no NaN, no bombs."""

from __future__ import annotations

import json
import math
import re
import reprlib
from typing import Any

from nonna.errors import NonnaError
from nonna.shop.texts.given import Given, Plain

MAX_BYTES = 50_000_000
MAX_DEPTH = 50
_STRING = re.compile(r'"(?:[^"\\]|\\.)*"?', re.DOTALL)
_TOO_BIG = 1e308  # stands for numbers no float holds: refused later as out of range, with its place


class _DoubledNameError(ValueError):
    pass


class _HalfLetterError(ValueError):
    pass


def loads_object(data: bytes | str) -> Given:
    """Parse one JSON text that holds an object. Raises: NonnaError as `loads`, ``wrong-format`` (anything else)."""
    found = loads(data)
    if not isinstance(found, dict):
        raise NonnaError("wrong-format", "an object is wanted, not {shown}.", shown=reprlib.repr(found))
    return Given(found)


def loads(data: bytes | str) -> Any:
    """Parse one JSON text.

    Raises: NonnaError with code ``too-large`` (over 50 MB, or nested over 50 levels), ``unreadable`` (not
    UTF-8) or ``not-json`` (anything else, including a name twice in one object). NaN and Infinity come
    through as floats so that the check of the fields can say where they stand.
    """
    if len(data) > MAX_BYTES:
        raise NonnaError("too-large", "This is over 50 MB; a readings file is a few kilobytes. Is it the right one?")
    text = _decoded(data) if isinstance(data, bytes) else data
    if _too_deep(text):
        raise NonnaError(
            "too-large", "This is nested over {max_depth} levels deep; no file of ours is.", max_depth=MAX_DEPTH
        )
    try:
        found = _DECODER.decode(text)
        if "\\u" in text or not text.isascii():
            _refuse_halves(found)
        return found
    except json.JSONDecodeError as error:
        raise NonnaError(
            "not-json",
            "This is not JSON: {msg}, line {lineno} column {colno}.",
            msg=error.msg,
            lineno=error.lineno,
            colno=error.colno,
        ) from error
    except (_DoubledNameError, _HalfLetterError) as error:
        raise NonnaError("not-json", str(error)) from error


def _decoded(data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise NonnaError(
            "unreadable",
            "This is no plain text (UTF-8): what stands at byte {start} is no letter. Is it the right file?",
            start=error.start,
        ) from error


def _too_deep(text: str) -> bool:
    if text.count("[") + text.count("{") <= MAX_DEPTH:
        return False
    depth = 0
    for bracket in re.findall(r"[\[\]{}]", _STRING.sub("", text)):
        depth += 1 if bracket in "[{" else -1
        if depth > MAX_DEPTH:
            return True
    return False


def _object(pairs: list[tuple[str, Plain]]) -> dict[str, Plain]:
    result = dict(pairs)
    if len(result) != len(pairs):
        seen: set[str] = set()
        for name, _ in pairs:
            if name in seen:
                raise _DoubledNameError(f"The name {name!r} stands twice in one object; which one counts?")
            seen.add(name)
    return result


def _refuse_halves(value: Plain) -> None:
    """Half a letter (a lone surrogate) can be written as an escape and stored nowhere. Raises: _HalfLetterError."""
    if isinstance(value, str):
        if not value.isascii() and re.search("[\ud800-\udfff]", value):
            raise _HalfLetterError(f"Half a letter stands in {value[:30]!r}; it cannot be kept.")
    elif isinstance(value, dict):
        for name, each in value.items():
            _refuse_halves(name)
            _refuse_halves(each)
    elif isinstance(value, list):
        for each in value:
            _refuse_halves(each)


def _float(text: str) -> float:
    value = float(text)
    return math.copysign(_TOO_BIG, value) if math.isinf(value) else value


def _int(text: str) -> float | int:
    return int(text) if len(text) < 300 else math.copysign(_TOO_BIG, -1 if text[0] == "-" else 1)


_DECODER = json.JSONDecoder(object_pairs_hook=_object, parse_float=_float, parse_int=_int)
