"""Reference tool on a master in the chuck: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, Master, Masters, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.shown import XShows, x_shows
from nonna.shop.texts.strict_model import NotNegative, Number, Strict

TURNS: tuple[Literal[0, 180], ...] = (0, 180)


class ChuckMasterSetup(Setup):
    """Setup of a reference tool touched on a master."""

    x_shows: XShows = x_shows()
    runout_mm: NotNegative | None = asked(
        "Run-out of the master",
        help="As it sits in the chuck, full swing: counts where one angle alone is touched.",
        default=None,
    )
    feeler_mm: NotNegative = asked(
        "Foil between", help="Its thickness; 0 where the tool touches the master itself.", default=0.0
    )
    feeler_u_mm: NotNegative = carried_u("Its standard uncertainty")
    feeler_dof: Dof | None = carried_dof()
    face_mm: Number | None = asked(
        "Where the master's face lies", help="In Z, as the machine counts; needed where Z is touched.", default=None
    )
    face_u_mm: NotNegative = carried_u("Its standard uncertainty")
    face_dof: Dof | None = carried_dof()


class ChuckMasterMasters(Masters):
    """The master in the chuck."""

    master: Master


class ChuckMasterTouch(Strict):
    """Machine position as the tool touches, and how the chuck stood."""

    axis: Literal["x", "z"]
    chuck_deg: Literal[0, 180]
    position_mm: Number


class ChuckMasterReadings(ReadingsFile):
    """Readings file of a reference tool touched on a master."""

    procedure: Literal["lathe-offset-master"]
    setup: ChuckMasterSetup
    masters: ChuckMasterMasters
    readings: list[ChuckMasterTouch]
