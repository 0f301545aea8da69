"""Home check: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

AXES = ("x", "y", "z")


NAMES = {"x": "X", "y": "Y", "z": "Z"}


class HomeSetup(Setup):
    """Where the pin was when it was first found."""

    pin_x_mm: Number | None = asked("Pin in X", help="From the first check.", default=None)
    pin_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_x_dof: Dof | None = carried_dof()
    pin_y_mm: Number | None = asked("Pin in Y", help="From the first check.", default=None)
    pin_y_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_y_dof: Dof | None = carried_dof()
    pin_z_mm: Number | None = asked("Pin in Z", help="From the first check.", default=None)
    pin_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_z_dof: Dof | None = carried_dof()
    limit_mm: NotNegative | None = asked(
        "Home repeats within", help="More than this is a moved home.", default=None, limit=True
    )


class PinReading(Strict):
    """Machine position of one touch of the pin."""

    axis: Literal["x", "y", "z"]
    position_mm: Number


class HomeReadings(ReadingsFile):
    """Readings file of a home check."""

    procedure: Literal["home-check"]
    setup: HomeSetup
    readings: list[PinReading]
