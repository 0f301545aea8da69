"""Probe in the ring, lathe: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, Master, Masters, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict
from nonna.stations.lathe.axes import Deep

Side = Literal["internal", "external"]


class LatheRingSetup(Deep):
    """Setup of a ring."""

    side: Side = asked("Touched", "", "In the ring, or round it.")
    x_shows: XShows = x_shows()
    axis: Literal["x", "y"] = asked("Axis", "", "That the probe moves on.", "x")
    centre_mm: Number | None = asked("Centre", help="As shown; needed where one side only is touched.", default=None)
    centre_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_dof: Dof | None = carried_dof()


class LatheRingMasters(Masters):
    """A ring, or the part itself with its micrometer's uncertainty."""

    ring: Master


class RingTouch(Strict):
    """Machine position at one trigger, on the + or - side of the centre."""

    at: Literal["+", "-"]
    position_mm: Number


class LatheRingReadings(ReadingsFile):
    """Readings file of a ring."""

    procedure: Literal["lathe-ring"]
    setup: LatheRingSetup
    masters: LatheRingMasters
    readings: list[RingTouch]
