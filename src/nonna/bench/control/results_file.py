"""Results that are to be stored in a control (``nonna-results/1``): what evaluating gave, for which tool or offset."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, PlainValidator, WithJsonSchema

from nonna.shop.texts.given import Given
from nonna.shop.texts.strict_model import Strict


def _object(value: object) -> Given:
    if not isinstance(value, dict):
        raise ValueError("an object as `evaluate` answers is wanted")
    return Given(value)


Result = Annotated[Given, PlainValidator(_object), WithJsonSchema({"type": "object"})]


class ResultToStore(Strict):
    """One result, and what it is of."""

    tool: int | None = Field(None, ge=0, le=1_000_000)
    offset: int | None = Field(None, ge=1, le=1_000_000)
    record: int | None = Field(None, ge=1)
    result: Result


class ResultsFile(Strict):
    """A list of results."""

    format: Literal["nonna-results/1"]
    results: list[ResultToStore] = Field(min_length=1, max_length=10_000)
