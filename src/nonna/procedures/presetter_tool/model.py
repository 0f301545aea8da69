"""Tool on the presetter: what its readings file holds."""

from __future__ import annotations

from typing import Any, Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

Axis = Literal["z", "x"]


NAMES = {"z": ("length", "Length"), "x": ("diameter", "Diameter")}


def _scale_u(axis: str) -> Any:
    return asked(f"Doubt of the {axis} scale", "1", "Standard uncertainty in ppm.", None)


class PresetterToolSetup(Setup):
    """Setup of a tool on a presetter: what its calibration found."""

    x_shows: XShows = x_shows()
    z_offset_mm: Number | None = asked("Zero of the length", help="From the calibration.", default=None)
    z_offset_u_mm: NotNegative | None = asked("Its standard uncertainty", default=None)
    z_offset_dof: Dof | None = carried_dof()
    z_pivot_mm: Number | None = asked("Where it holds", help="Pivot of the length.", default=None)
    z_scale_ppm: Number | None = asked("Scale of the length", "1", "In ppm.", None)
    z_scale_u_ppm: NotNegative | None = _scale_u("Z")
    z_scale_dof: Dof | None = carried_dof()
    x_offset_mm: Number | None = asked("Zero of the diameter", help="From the calibration, as shown.", default=None)
    x_offset_u_mm: NotNegative | None = asked("Its standard uncertainty", default=None)
    x_offset_dof: Dof | None = carried_dof()
    x_pivot_mm: Number | None = asked("Where it holds", help="Pivot of the diameter, as shown.", default=None)
    x_scale_ppm: Number | None = asked("Scale of the diameter", "1", "In ppm.", None)
    x_scale_u_ppm: NotNegative | None = _scale_u("X")
    x_scale_dof: Dof | None = carried_dof()
    expected_length_mm: Number | None = asked("Length in the table", default=None)
    expected_diameter_mm: Number | None = asked("Diameter in the table", default=None)
    limit_length_mm: NotNegative | None = asked("Largest change of the length", default=None, limit=True)
    limit_diameter_mm: NotNegative | None = asked("Largest change of the diameter", default=None, limit=True)


class AxisReading(Strict):
    """What the display shows on one axis."""

    axis: Axis
    value_mm: Number


class PresetterToolReadings(ReadingsFile):
    """Readings file of a tool on a presetter."""

    procedure: Literal["presetter-tool"]
    setup: PresetterToolSetup
    readings: list[AxisReading]
    value_fields = ("value_mm",)
