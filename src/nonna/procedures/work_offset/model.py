"""Work offset: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.tool_length.model import PositionReading
from nonna.shop.texts.strict_model import NotNegative, Number


class WorkOffsetSetup(Setup):
    """Setup of a work offset."""

    tool_length_mm: Number = asked("Length of what touches", help="The tool, or the probe, in the spindle.")
    tool_length_u_mm: NotNegative = carried_u("Its standard uncertainty")
    tool_length_dof: Dof | None = carried_dof()
    height_mm: Number = asked("Height between", help="Of a sensor or block on the part; 0 without one.", default=0.0)
    height_u_mm: NotNegative = carried_u("Height's standard uncertainty")
    height_dof: Dof | None = carried_dof()


class WorkOffsetReadings(ReadingsFile):
    """Readings file of a work offset."""

    procedure: Literal["work-offset"]
    setup: WorkOffsetSetup
    readings: list[PositionReading]
