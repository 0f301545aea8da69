"""A series of one value over time (``nonna-series/1``), as the drift command takes it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AwareDatetime, BeforeValidator, Field, WithJsonSchema

from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict


def _moment(said: object) -> object:
    """Read a moment with its zone; anything else is left for the check to refuse."""
    if not isinstance(said, str) or len(said) > 40:
        raise ValueError("a date and time with its zone is wanted, such as 2026-05-04T07:30:00+02:00")
    try:
        moment = datetime.fromisoformat(said)
    except ValueError as error:
        raise ValueError("a date and time with its zone is wanted, such as 2026-05-04T07:30:00+02:00") from error
    if moment.tzinfo is None or not 1900 <= moment.year <= 9000:
        raise ValueError("its zone is missing, such as +02:00 or Z, or its year cannot be")
    return moment


Moment = Annotated[AwareDatetime, BeforeValidator(_moment), WithJsonSchema({"type": "string", "format": "date-time"})]


class SeriesPoint(Strict):
    """One value, when it was found and what it is good for."""

    t: Moment
    value_mm: Number
    u_mm: NotNegative = 0.0
    temperature_c: Annotated[float, Field(ge=-50.0, le=150.0, allow_inf_nan=False)] | None = None


class SeriesEvent(Strict):
    """Something that happened."""

    t: Moment
    name: str = Field(min_length=1, max_length=200)


class Series(Strict):
    """Points in any order, with what happened between them and the limits the value must keep."""

    format: Literal["nonna-series/1"] = "nonna-series/1"
    points: list[SeriesPoint] = Field(max_length=20_000)
    events: list[SeriesEvent] = Field([], max_length=20_000)
    lower_mm: Number | None = None
    upper_mm: Number | None = None
    interval_days: Positive | None = None
    now: Moment
