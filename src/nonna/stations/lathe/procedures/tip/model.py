"""Tip on the arm: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

AXES: tuple[Literal["x", "z"], ...] = ("x", "z")


FLANKS = {"+z", "-z"}


class TipSetup(Setup):
    """Setup of a tip."""

    x_shows: XShows = x_shows()
    plane_x_mm: Number | None = asked("Arm's plane in X", help="Of the face this tip touches.", default=None)
    plane_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_x_dof: Dof | None = carried_dof()
    plane_z_mm: Number | None = asked("Arm's plane in Z", help="Of the face this tip touches.", default=None)
    plane_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_z_dof: Dof | None = carried_dof()
    plane_minus_z_mm: Number | None = asked(
        "Arm's plane on -z", help="Of a driven tool touched on both flanks; the other is then that on +z.", default=None
    )
    plane_minus_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_minus_z_dof: Dof | None = carried_dof()
    centre_line_x_mm: Number | None = asked(
        "Centre line in X", help="For a drill, instead of touching in X.", default=None
    )
    centre_line_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_line_x_dof: Dof | None = carried_dof()
    expected_x_mm: Number | None = asked("Last X offset", help="What the table holds.", default=None)
    expected_x_u_mm: NotNegative = carried_u(
        "Its standard uncertainty", help="Without the plane's where it is the same plane."
    )
    expected_x_dof: Dof | None = carried_dof()
    expected_z_mm: Number | None = asked("Last Z offset", help="What the table holds.", default=None)
    expected_z_u_mm: NotNegative = carried_u(
        "Its standard uncertainty", help="Without the plane's where it is the same plane."
    )
    expected_z_dof: Dof | None = carried_dof()
    same_plane: bool = asked("On the same plane as then", "", "Then its doubt cancels in the change.", True)
    limit_mm: NotNegative | None = asked("Largest change", help="Against the last offset.", default=None, limit=True)


class TipTouch(Strict):
    """Machine position when the arm triggered; the face, where both flanks are touched."""

    axis: Literal["x", "z"]
    face: Literal["+z", "-z"] | None = None
    position_mm: Number


class TipReadings(ReadingsFile):
    """Readings file of a tip."""

    procedure: Literal["lathe-tip"]
    setup: TipSetup
    readings: list[TipTouch]
