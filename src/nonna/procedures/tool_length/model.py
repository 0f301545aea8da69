"""Tool length: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.turning import TurningSetup
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class ToolLengthSetup(TurningSetup):
    """Setup of a tool length."""

    limit_mm: NotNegative | None = asked(
        "Largest change", help="The length may differ this much from the table.", default=None, limit=True
    )
    expected_mm: Number | None = asked("Length in the table", help="What the table holds now.", default=None)
    trigger_plane_mm: Number = asked("Trigger plane", help="From the setter calibration.")
    trigger_plane_u_mm: NotNegative = carried_u("Its standard uncertainty")
    trigger_plane_dof: Dof | None = carried_dof()


class PositionReading(Strict):
    """Machine Z of the gauge line at one trigger."""

    position_mm: Number


class ToolLengthReadings(ReadingsFile):
    """Readings file of a tool length."""

    procedure: Literal["tool-length"]
    setup: ToolLengthSetup
    readings: list[PositionReading]
