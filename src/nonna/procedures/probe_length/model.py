"""Probe length: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.tool_length.model import PositionReading
from nonna.shop.texts.strict_model import NotNegative, Number


class ProbeLengthSetup(Setup):
    """Setup of a probe length."""

    surface_mm: Number = asked("Surface touched", help="Its height: the setter's trigger plane, or a block's top.")
    surface_u_mm: NotNegative = carried_u("Its standard uncertainty")
    surface_dof: Dof | None = carried_dof()
    correction_mm: Number = asked("Correction", help="From a loop closure: setter against probe.", default=0.0)
    correction_u_mm: NotNegative = carried_u("Correction's standard uncertainty")
    correction_dof: Dof | None = carried_dof()


class ProbeLengthReadings(ReadingsFile):
    """Readings file of a probe length."""

    procedure: Literal["probe-length"]
    setup: ProbeLengthSetup
    readings: list[PositionReading]
