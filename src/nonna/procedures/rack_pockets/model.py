"""Rack pockets: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

Face = Literal["+x", "-x", "+y", "-y", "top"]


FACES: tuple[Face, ...] = ("+x", "-x", "+y", "-y", "top")


POCKETS, LEAST, MOST = 8, 3, 60  #: of a rack of which nobody said how many it has; what is measured as one row


class KnownPocket(Strict):
    """Where a pocket stood when the row was measured; nothing befell it since."""

    pocket: int
    x_mm: Number
    y_mm: Number
    z_mm: Number
    diameter_mm: Positive


class RackSetup(Setup):
    """Setup of a rack, or of one renewed place of it."""

    renewed: int | None = asked("Renewed place", "1", "Its number: the one place with a new clip.", None)
    known: list[KnownPocket] = Field(
        [], max_length=MOST, title="Places the book knows",
        description="Of the same row; those measured now replace theirs.",
    )  # fmt: skip
    holder_diameter_mm: Positive = asked("Diameter of the bare holder", help="Where the rod touches it.")
    rod_diameter_mm: Positive = asked("Diameter of the rod", help="In the spindle.")
    limit_off_line_mm: NotNegative | None = asked("Off the line, at most", default=None, limit=True)
    limit_height_mm: NotNegative | None = asked("Off in height, at most", default=None, limit=True)
    limit_diameter_mm: NotNegative | None = asked(
        "Off in diameter, at most", help="More tells of a holder that does not sit.", default=None, limit=True
    )


class PocketReading(Strict):
    """Spindle position at one touch of the holder that hangs in a pocket."""

    pocket: int
    face: Face
    position_mm: Number


class RackReadings(ReadingsFile):
    """Readings file of a rack."""

    procedure: Literal["rack-pockets"]
    setup: RackSetup
    readings: list[PocketReading]
