"""Setter calibration: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Master, Masters, ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Face = Literal["top", "+x", "-x", "+y", "-y"]


class SetterSetup(Setup):
    """Setup of a setter calibration."""

    limit_range_mm: NotNegative | None = asked(
        "Range of the top touches", help="The touches on top must lie within this.", default=None, limit=True
    )
    school: Literal["absolute", "relative"] = asked(
        "Lengths", "", "Absolute: from a certified master. Relative: the master counts as exact.", "absolute"
    )


class SetterMasters(Masters):
    """The master tool, the spindle face (length 0) or a block under the spindle face."""

    master: Master


class FaceReading(Strict):
    """Machine position at one trigger."""

    face: Face
    position_mm: Number


class SetterReadings(ReadingsFile):
    """Readings file of a setter calibration."""

    procedure: Literal["setter-calibration"]
    setup: SetterSetup
    masters: SetterMasters
    readings: list[FaceReading]
