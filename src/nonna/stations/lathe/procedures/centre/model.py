"""Centre line of the turret: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Side = Literal["+x", "-x", "+y", "-y"]


SIDES: tuple[Side, ...] = ("+x", "+y", "-x", "-y")  #: in the order the chuck is turned


class CentreSetup(IndicatorSetup):
    """Setup of a sweep round a bar."""

    x_shows: XShows = x_shows()
    machine_x_mm: Number | None = asked(
        "Machine X of the sweep", help="As shown; the bar about on the axis.", default=None
    )
    limit_height_mm: NotNegative | None = asked(
        "Largest error in height", help="Of the bar against the spindle's axis.", default=None, limit=True
    )


class SweepReading(Strict):
    """The dial on one side of the bar, larger the further the bar reaches out there."""

    at: Side
    value_mm: Number


class CentreReadings(ReadingsFile):
    """Readings file of a sweep round a bar."""

    procedure: Literal["lathe-centre"]
    setup: CentreSetup
    readings: list[SweepReading]
    value_fields = ("value_mm",)
