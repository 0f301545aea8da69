"""Gauge study: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict


class StudySetup(Setup):
    """What kind of study it is, and what the gauge is wanted for."""

    kind: Literal["crossed", "single"] = asked(
        "Study", "", "Several people on several parts, or one gauge on one part of known size.", "crossed"
    )
    tolerance_mm: Positive | None = asked("Tolerance of the part", help="The whole width of it.", default=None)
    reference_mm: Number | None = asked("Size of the part", help="From its certificate (one part).", default=None)
    reference_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_dof: Dof | None = carried_dof()


class StudyReading(Strict):
    """One reading of one part by one person."""

    part: int | str
    appraiser: int | str
    value_mm: Number


class StudyReadings(ReadingsFile):
    """Readings file of a gauge study."""

    procedure: Literal["gauge-study"]
    setup: StudySetup
    readings: list[StudyReading]
    value_fields = ("value_mm",)
