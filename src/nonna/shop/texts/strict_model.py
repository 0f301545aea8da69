"""Models that refuse what they do not know, and say in one line what is wrong and where."""

from __future__ import annotations

import re
from typing import Annotated, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nonna.errors import NonnaError
from nonna.shop.texts.given import Plain

LARGEST = 1e6

Number = Annotated[float, Field(ge=-LARGEST, le=LARGEST, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0.0, le=LARGEST, allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0.0, le=LARGEST, allow_inf_nan=False)]


class Strict(BaseModel):
    """A model that refuses unknown names, wrong kinds and numbers that are none."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, defer_build=True)  # built when first used


M = TypeVar("M", bound=BaseModel)


def checked(model: type[M], document: object) -> M:
    """Check a document against a model.

    Raises: NonnaError with the code and the place of the first thing wrong, and how many more there are.
    """
    try:
        return model.model_validate(document)
    except ValidationError as caught:
        found = caught.errors(include_url=False, include_context=False)
    first = found[0]
    where = path_of(first["loc"])
    code, words = _said(first["type"], first["msg"], first["input"], first["loc"])
    more = f" ({len(found) - 1} more like it.)" if len(found) > 1 else ""
    raise NonnaError(code, "{place}: {words}{more}", where, place=where, words=words, more=more)


def path_of(location: tuple[int | str, ...]) -> str:
    """Write a place in a file as a person would: ``readings[3].value_mm``."""
    path = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in location)
    return path.removeprefix(".")


_RANGE = ("greater_than", "less_than", "literal_error", "enum")


def _said(kind: str, message: str, value: Plain, location: tuple[int | str, ...]) -> tuple[str, str]:
    shown = repr(value)
    shown = shown if len(shown) <= 40 else shown[:37] + "..."
    if kind == "missing":
        code = "missing-master" if len(location) == 2 and location[0] == "masters" else "missing-field"
        return code, "this is missing."
    if kind == "extra_forbidden":
        return "unknown-field", "no such field here; is it misspelt?"
    if kind in ("float_type", "finite_number", "float_parsing", "int_type"):
        return "not-a-number", f"a number is wanted, not {shown}."
    if (
        kind == "literal_error"
        and "'" not in message
        and (isinstance(value, bool) or not isinstance(value, float | int))
    ):
        return "not-a-number", f"a number is wanted, not {shown}."
    if kind == "literal_error" and "'" in message and not isinstance(value, str):
        return "wrong-format", f"a word is wanted, not {shown}."
    if kind.startswith(_RANGE):
        plain = re.sub(r"^Input should be ", "", message)
        return "out-of-range", f"{shown} is outside what is possible; it should be {plain}."
    return "wrong-format", f"{message[:1].lower()}{message[1:]}; this is {shown}."
