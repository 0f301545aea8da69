"""Face level: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked
from nonna.shop.cards.gear import LevelScrew
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

LEAST = 4
MAIN = ("rise_x_mm", "rise_y_mm")  #: its results, the rise over the pad each way


class FaceLevelSetup(IndicatorSetup):
    """Setup of a face level."""

    limit_mm: NotNegative | None = asked(
        "Largest rise", help="Over the pad's whole width, each way.", default=None, limit=True
    )
    pad_x_mm: Positive = asked("Pad in X")
    pad_y_mm: Positive = asked("Pad in Y")
    screws: list[LevelScrew] = Field([], max_length=24, title="Levelling screws")


class PlaceReading(Strict):
    """The dial over one place of the pad."""

    x_mm: Number
    y_mm: Number
    value_mm: Number


class FaceLevelReadings(ReadingsFile):
    """Readings file of a face level."""

    procedure: Literal["face-level"]
    setup: FaceLevelSetup
    readings: list[PlaceReading]
    value_fields = ("value_mm",)
