"""Part on the lathe: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict
from nonna.stations.lathe.axes import Deep

Feature = Literal["diameter", "distance", "groove", "rib"]


GAIN, TOUCHES = 0.7, 2


class EarlierPart(Strict):
    """A part measured before, and the wear it was cut with (as shown)."""

    error_mm: Number
    u_mm: NotNegative = 0.0
    wear_mm: Number = 0.0


class PartSetup(Deep):
    """Setup of a part's feature."""

    feature: Feature = asked("What it is", "", "Diameter, distance, groove or rib.")
    nominal_mm: Number = asked("Nominal size", help="From the drawing.")
    side: Literal["internal", "external"] | None = asked("Touched", "", "A diameter: inside or outside.", None)
    axis: Literal["x", "y", "z"] | None = asked("Axis", "", "X for a diameter, Z for the rest, where not said.", None)
    x_shows: XShows = x_shows()
    ball_diameter_mm: Number | None = asked(
        "Effective ball", help="From the ring; inside and outside apart.", default=None
    )
    ball_diameter_u_mm: NotNegative = carried_u("Its standard uncertainty")
    ball_diameter_dof: Dof | None = carried_dof()
    centre_mm: Number | None = asked("Centre", help="As shown; needed where one side only is touched.", default=None)
    centre_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_dof: Dof | None = carried_dof()
    lower_mm: Number | None = asked("Lower limit of the error", help="From the drawing.", default=None, limit=True)
    upper_mm: Number | None = asked("Upper limit of the error", help="From the drawing.", default=None, limit=True)
    tool: str | None = asked("Cut by", "", "The tool whose wear is corrected, such as T3.", None)
    wear_mm: Number | None = asked("Wear in the table", help="As shown, of the tool that cut it.", default=None)
    gain: Positive = asked("Gain", "1", "How much of the error is taken away at once.", GAIN)
    step_limit_mm: NotNegative | None = asked("Largest step of the wear", help="As shown.", default=None)
    stop_mm: NotNegative | None = asked("Stop beyond", help="An error this large is no wear.", default=None)
    earlier: list[EarlierPart] = Field(
        [], max_length=1000, title="Parts before",
        description="Of this process, the oldest first: wear follows them all.",
    )  # fmt: skip


class PartTouch(Strict):
    """Machine position at one trigger: on the + or - side, or of the farther and the nearer of two faces."""

    at: Literal["+", "-"]
    position_mm: Number


class PartReadings(ReadingsFile):
    """Readings file of a part's feature."""

    procedure: Literal["lathe-measure"]
    setup: PartSetup
    readings: list[PartTouch]
