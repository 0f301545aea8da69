"""Beam level: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.cards.gear import Adjuster
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

Z = "z_per_100_mm"  #: what the adjuster acts on


class BeamSetup(Setup):
    """Setup of a beam level."""

    limit_z_mm_per_100: NotNegative | None = asked(
        "Largest fall in Z", "mm per 100", "The beam may rise or fall this much over 100 mm.", None, limit=True
    )
    limit_cross_mm_per_100: NotNegative | None = asked(
        "Largest run across", "mm per 100", "The beam may run sideways this much over 100 mm.", None, limit=True
    )
    span_mm: Positive = asked("Span between the ends")
    adjuster: Adjuster | None = None


class EndReading(Strict):
    """Where the pin met the beam at one end."""

    end: Literal["A", "B"]
    z_mm: Number
    cross_mm: Number


class BeamReadings(ReadingsFile):
    """Readings file of a beam level."""

    procedure: Literal["beam-level"]
    setup: BeamSetup
    readings: list[EndReading]
    value_fields = ("z_mm", "cross_mm")
