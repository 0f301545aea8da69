"""Tool diameter: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.turning import TurningSetup
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

_FROM_SETTER = "From the setter calibration; needed where faces of this axis are touched."


_ONE_SIDE = "Needed when one side only is touched."


class DiameterSetup(TurningSetup):
    """Setup of a tool diameter."""

    limit_mm: NotNegative | None = asked(
        "Largest difference", help="The diameter may differ this much from the table.", default=None, limit=True
    )
    expected_mm: Number | None = asked("Diameter in the table", help="What the table holds now.", default=None)
    setter_width_mm: Number | None = asked("Setter's effective width in X", help=_FROM_SETTER, default=None)
    setter_width_u_mm: NotNegative = carried_u("Width's standard uncertainty")
    setter_width_dof: Dof | None = carried_dof()
    setter_centre_mm: Number | None = asked("Setter's centre in X", help=_ONE_SIDE, default=None)
    setter_centre_u_mm: NotNegative = carried_u("Centre's standard uncertainty")
    setter_centre_dof: Dof | None = carried_dof()
    setter_width_y_mm: Number | None = asked("Setter's effective width in Y", help=_FROM_SETTER, default=None)
    setter_width_y_u_mm: NotNegative = carried_u("Width's standard uncertainty in Y")
    setter_width_y_dof: Dof | None = carried_dof()
    setter_centre_y_mm: Number | None = asked("Setter's centre in Y", help=_ONE_SIDE, default=None)
    setter_centre_y_u_mm: NotNegative = carried_u("Centre's standard uncertainty in Y")
    setter_centre_y_dof: Dof | None = carried_dof()


class SideReading(Strict):
    """X or Y of the spindle axis at one trigger."""

    face: Literal["+x", "-x", "+y", "-y"]
    position_mm: Number


class DiameterReadings(ReadingsFile):
    """Readings file of a tool diameter."""

    procedure: Literal["tool-diameter"]
    setup: DiameterSetup
    readings: list[SideReading]


FACES = {
    "both": ("+x", "-x"), "one": ("+x",), "both-y": ("+y", "-y"), "one-y": ("+y",), "four": ("+x", "-x", "+y", "-y"),
}  # fmt: skip
