"""Probe ring: what its readings file holds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator
from pydantic_core import PydanticCustomError

from nonna.procedures.inputs import Master, Masters, ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

DIRECTIONS = 8


def _spindle(value: float) -> float:
    if value not in (0.0, 180.0):
        raise PydanticCustomError("literal_error", "Input should be 0 or 180")
    return value


class RingSetup(Setup):
    """Setup of a probe ring."""

    limit_lobing_mm: NotNegative | None = asked(
        "Largest lobing", help="Spread of the radius over all directions.", default=None, limit=True
    )
    limit_offset_mm: NotNegative | None = asked(
        "Largest offset", help="Ball from the spindle axis, in X and in Y.", default=None, limit=True
    )
    side: Literal["internal", "external"] = asked("Side", "", "internal: in a ring; external: round a pin.")


class RingMasters(Masters):
    """The ring, or the pin."""

    ring: Master


class RingReading(Strict):
    """Spindle axis at one trigger."""

    spindle_deg: Annotated[Number, AfterValidator(_spindle)]
    x_mm: Number
    y_mm: Number


class RingReadings(ReadingsFile):
    """Readings file of a probe ring."""

    procedure: Literal["probe-ring"]
    setup: RingSetup
    masters: RingMasters
    readings: list[RingReading]
    value_fields = ("x_mm", "y_mm")
