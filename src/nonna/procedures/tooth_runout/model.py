"""Tooth run-out: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

TIMES, USUAL_TEETH = 2, 4


class ToothSetup(Setup):
    """Setup of a tooth run-out."""

    limit_mm: NotNegative | None = asked(
        "Largest run-out",
        help="The longest tooth may stand out this much beyond the shortest.",
        default=None,
        limit=True,
    )


class ToothReading(Strict):
    """Machine Z of the gauge line when a tooth triggered."""

    tooth: int = Field(ge=1, le=200)
    position_mm: Number


class ToothReadings(ReadingsFile):
    """Readings file of a tooth run-out."""

    procedure: Literal["tooth-runout"]
    setup: ToothSetup
    readings: list[ToothReading]
