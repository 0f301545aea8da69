"""Repeatability: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

LEAST, ADVISED = 5, 25


class RepeatabilitySetup(Setup):
    """Setup of a repeatability check."""

    limit_2s_mm: NotNegative | None = asked(
        "Largest scatter, 2 s", help="Twice the standard deviation must stay below this.", default=None, limit=True
    )


class ValueReading(Strict):
    """One reading, and when it was taken if that is known."""

    value_mm: Number
    t_s: Number | None = None


class RepeatabilityReadings(ReadingsFile):
    """Readings file of a repeatability check."""

    procedure: Literal["repeatability"]
    setup: RepeatabilitySetup
    readings: list[ValueReading]
    value_fields = ("value_mm",)
