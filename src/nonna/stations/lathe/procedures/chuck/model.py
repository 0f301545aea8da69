"""Chuck run-out: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

LEAST, POSITIONS = 3, 6


class ChuckSetup(Setup):
    """Setup of a chuck's run-out."""

    limit_mm: NotNegative | None = asked("Largest run-out", help="Full swing.", default=None, limit=True)
    x_shows: XShows = x_shows()
    form_mm: NotNegative | None = asked(
        "Out of round", help="Of the surface, peak to valley: three angles take an oval for run-out.", default=None
    )


class ChuckTouch(Strict):
    """Machine position of the probe at one angle of the chuck."""

    angle_deg: Number
    position_mm: Number


class TurnedReadings(ReadingsFile):
    """Readings file of what is probed at angles of the chuck."""

    setup: ChuckSetup
    readings: list[ChuckTouch]


class ChuckReadings(TurnedReadings):
    """Readings file of a chuck run-out."""

    procedure: Literal["chuck-runout"]
