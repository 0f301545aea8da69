"""Loop closure: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class ClosureSetup(Setup):
    """Setup of a loop closure."""

    limit_mm: NotNegative | None = asked(
        "Largest difference", help="Tool and probe may see the surface this far apart.", default=None, limit=True
    )


class HeightReading(Strict):
    """The surface's height as one chain sees it: Z of the trigger less the length it uses."""

    via: Literal["tool", "probe"]
    height_mm: Number


class ClosureReadings(ReadingsFile):
    """Readings file of a loop closure."""

    procedure: Literal["loop-closure"]
    setup: ClosureSetup
    readings: list[HeightReading]
    value_fields = ("height_mm",)
