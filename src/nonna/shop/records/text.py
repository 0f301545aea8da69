"""Records to text and back: the one place that knows how a record is written, so that its hash means something."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Annotated

from pydantic import Field, JsonValue, TypeAdapter, ValidationError

from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.hashing import canonical, digest
from nonna.shop.records.values import JsonObject, Record

_RECORD: TypeAdapter[Record] = TypeAdapter(Annotated[Record, Field(discriminator="kind")])


def placed(record: Record, number: int, previous: str) -> Record:
    """Return a record with its place in a chain, its text and its hash. Raises: ValueError (a number not finite)."""
    whole = record.model_copy(update={"number": number, "previous": previous})
    text = canonical(whole.model_dump(exclude_unset=True, by_alias=True))
    return whole.model_copy(update={"text": text, "hash": digest(text)})


def read(number: object, hash_: object, text: object) -> Record:
    """Return the record that a text holds, which is believed where it fits its hash. Raises: DamagedRecordError."""
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
    try:
        found = read_body(body)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        words = f"it does not hold what a record holds ({place_in(first['loc'])}: {first['msg']})"
        raise DamagedRecordError(number, words) from error
    return found.model_copy(update={"text": text, "hash": hash_})


def place_in(location: tuple[int | str, ...]) -> str:
    """Return a place in a record in words; the first step is its kind."""
    return ".".join(map(str, location[1:]))


def record_of(said: Mapping[str, object]) -> Record:
    """Return the record that is made of plain values, as it will read once it is signed.

    Raises: ValueError (a number not finite, or no record).
    """
    return read_body(json.loads(canonical(said)))


def read_body(body: JsonValue) -> Record:
    """Return the record that a JSON object is. Raises: ValidationError (pydantic's; it says where)."""
    return _RECORD.validate_python(body)


def body_of(record: Record) -> JsonObject:
    """Return a signed record's JSON object as it was signed."""
    found: JsonObject = json.loads(record.text)
    return found


def exported(record: Record) -> JsonObject:
    """Return a record as a line of an export."""
    return {"hash": record.hash, "body": body_of(record)}
