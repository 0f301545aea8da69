"""Artefact check: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, Master, Masters, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class ArtefactSetup(Setup):
    """Setup of an artefact check."""

    limit_mm: NotNegative | None = asked("Largest error", help="Beside the E_n number.", default=None, limit=True)
    calibration_u_mm: NotNegative = carried_u(
        "Standard uncertainty of the loop", help="What the calibrations this rests on leave in doubt."
    )
    calibration_dof: Dof | None = carried_dof()
    quantity: Literal["length", "diameter"] = asked("What is measured", "")


class ArtefactMasters(Masters):
    """The artefact, with its certificate."""

    artefact: Master


class MeasuredReading(Strict):
    """The artefact as the loop measured it."""

    value_mm: Number


class ArtefactReadings(ReadingsFile):
    """Readings file of an artefact check."""

    procedure: Literal["artefact-check"]
    setup: ArtefactSetup
    masters: ArtefactMasters
    readings: list[MeasuredReading]
    value_fields = ("value_mm",)
