"""Tip run-out: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

LEAST, POSITIONS = 4, 8


class RunoutSetup(IndicatorSetup):
    """Setup of a tip run-out."""

    limit_mm: NotNegative | None = asked(
        "Largest run-out", help="Full swing of the dial that is allowed.", default=None, limit=True
    )
    screws_deg: list[Number] = Field([], max_length=24, title="Adjusting screws")


class AngleReading(Strict):
    """The dial at one angle of the spindle."""

    angle_deg: Number
    value_mm: Number


class RunoutReadings(ReadingsFile):
    """Readings file of a tip run-out."""

    procedure: Literal["tip-runout"]
    setup: RunoutSetup
    readings: list[AngleReading]
    value_fields = ("value_mm",)
