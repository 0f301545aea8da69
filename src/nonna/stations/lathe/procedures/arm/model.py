"""Arm calibration: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Face = Literal["+x", "-x", "+z", "-z"]


FACES: tuple[Face, ...] = ("+x", "-x", "+z", "-z")


PLANES = {"+x": "plane_plus_x", "-x": "plane_minus_x", "+z": "plane_plus_z", "-z": "plane_minus_z"}


class ArmSetup(Setup):
    """Setup of an arm calibration."""

    x_shows: XShows = x_shows()
    reference_x_mm: Number | None = asked("X offset of the reference tool", help="From its test cut.", default=None)
    reference_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_x_dof: Dof | None = carried_dof()
    reference_z_mm: Number | None = asked("Z offset of the reference tool", help="From its test cut.", default=None)
    reference_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_z_dof: Dof | None = carried_dof()
    limit_range_mm: NotNegative | None = asked(
        "Touches of one face agree within", help="Real millimetres.", default=None, limit=True
    )


class ArmTouch(Strict):
    """Machine position when a face triggered; named by the side the tip stands on."""

    face: Face
    position_mm: Number


class ArmReadings(ReadingsFile):
    """Readings file of an arm calibration."""

    procedure: Literal["lathe-arm"]
    setup: ArmSetup
    readings: list[ArmTouch]
