"""Breakage threshold: what its readings file holds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Positive, Strict

Probability = Annotated[float, Field(gt=0.0, lt=1.0, allow_inf_nan=False)]


class ThresholdSetup(Setup):
    """Setup of a breakage threshold."""

    sigma_mm: Positive = asked("Scatter of one check", help="Standard deviation, from a repeatability check.")
    drift_mm: NotNegative = asked("Possible drift", help="Shift either way, from warming up and wear.", default=0.0)
    smallest_break_mm: Positive = asked("Smallest break to see")
    false_alarm: Probability = asked("False alarms wanted", "1", "Probability that a good tool is called bad.")
    missed: Probability = asked("Misses wanted", "1", "Probability that such a break is not seen.")


class NoReading(Strict):
    """There are none."""


class ThresholdReadings(ReadingsFile):
    """Readings file of a breakage threshold: no readings, only what is wanted."""

    procedure: Literal["breakage-threshold"]
    setup: ThresholdSetup
    readings: Annotated[list[NoReading], Field(max_length=0)]
