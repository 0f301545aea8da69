"""Reference tool by test cut: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class Micrometer(Strict):
    """What the cut was measured with."""

    resolution_mm: NotNegative = asked("Its resolution", help="Smallest step it shows.", default=0.0)
    mpe_mm: NotNegative = asked("Its maximum permissible error", help="From its certificate.", default=0.0)


class CutSetup(Setup):
    """Setup of a test cut."""

    x_shows: XShows = x_shows()
    machine_x_mm: Number | None = asked("Machine X of the cut", help="As shown while it turned.", default=None)
    machine_z_mm: Number | None = asked("Machine Z of the face", help="As shown while it faced.", default=None)
    indicator: Micrometer = Micrometer()


class CutReading(Strict):
    """What was measured: the turned diameter, or where the face lies."""

    axis: Literal["x", "z"]
    value_mm: Number


class CutReadings(ReadingsFile):
    """Readings file of a test cut."""

    procedure: Literal["lathe-offset-cut"]
    setup: CutSetup
    readings: list[CutReading]
    value_fields = ("value_mm",)
