"""Presetter calibration: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, Master, Masters, ReadingsFile, Setup, asked, carried_dof
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Axis = Literal["z", "x"]


Role = Literal["low", "high", "proof"]


PPM = 1e6


WORDS = {"z": "Length", "x": "Diameter"}


class PresetterSetup(Setup):
    """Setup of a presetter calibration."""

    x_shows: XShows = x_shows()
    z_scale_u_ppm: NotNegative | None = asked(
        "Doubt of the Z scale", "1", "Standard uncertainty in ppm; needed where one master only was measured.", None
    )
    z_scale_dof: Dof | None = carried_dof()
    x_scale_u_ppm: NotNegative | None = asked(
        "Doubt of the X scale", "1", "Standard uncertainty in ppm; needed where one master only was measured.", None
    )
    x_scale_dof: Dof | None = carried_dof()
    limit_proof_mm: NotNegative | None = asked(
        "Largest error of the proof", help="On the master not used for fitting.", default=None, limit=True
    )
    limit_scale_ppm: NotNegative | None = asked(
        "Largest scale error", "1", "In millionths of the length.", None, limit=True
    )


class PresetterMasters(Masters):
    """Two masters to fit by, and one to prove it."""

    low: Master
    high: Master | None = None
    proof: Master | None = None


class ShownReading(Strict):
    """What the display shows on one axis with a master in the spindle."""

    master: Role
    axis: Axis
    value_mm: Number


class PresetterReadings(ReadingsFile):
    """Readings file of a presetter calibration."""

    procedure: Literal["presetter-calibration"]
    setup: PresetterSetup
    masters: PresetterMasters
    readings: list[ShownReading]
    value_fields = ("value_mm",)
