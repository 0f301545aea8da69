"""Tool from the presetter: what its readings file holds."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof
from nonna.procedures.presetter_tool.model import AxisReading, PresetterToolSetup
from nonna.shop.texts.strict_model import NotNegative, Number


class FromPresetterSetup(PresetterToolSetup):
    """Setup: the presetter's calibration, its transfer to this machine, this machine's plane and what it said."""

    transfer_mm: Number | None = asked(
        "Machine less presetter", help="From the transfer to this machine.", default=None
    )
    transfer_u_mm: NotNegative | None = asked(
        "Doubt of one more tool", help="Standard uncertainty of one more tool put right by it.", default=None
    )
    transfer_dof: Dof | None = carried_dof()
    transfer_pivot_mm: Number | None = asked("At the length", help="Where a line of transfer holds.", default=None)
    transfer_slope_ppm: Number | None = asked("Trend with the length", "1", "In ppm, for a line.", None)
    trigger_plane_mm: Number | None = asked("Trigger plane", help="Of the machine's setter.", default=None)
    trigger_plane_u_mm: NotNegative = asked("Its standard uncertainty", default=0.0)
    trigger_plane_dof: Dof | None = carried_dof()
    setter_recalibrated: bool = asked("Setter calibrated since", "", "Since the transfer was measured.", False)
    transfer_means_of: Annotated[int, Field(ge=1, le=1000)] | None = asked(
        "Readings a tool of the transfer", "", "Of how many readings each length in it was the mean.", None
    )
    own_length_mm: Number | None = asked("The machine's own length", help="As its setter said last.", default=None)
    own_length_u_mm: NotNegative = asked("Its standard uncertainty", default=0.0)
    own_length_dof: Dof | None = carried_dof()
    expected_mm: Number | None = asked("Length in the table", default=None)
    limit_mm: NotNegative | None = asked("Largest change of the length", default=None, limit=True)


class FromPresetterReadings(ReadingsFile):
    """Readings file of a tool from the presetter."""

    procedure: Literal["tool-from-presetter"]
    setup: FromPresetterSetup
    readings: list[AxisReading]
    value_fields = ("value_mm",)
