"""Touches as data: where to go, which way to search, at which feeds, where the result is left."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.metrology.safe_feeds import Feeds
from nonna.programs.writing.storing import LengthStore
from nonna.programs.writing.units import Unit, unit_of
from nonna.shop.cards.control_card import ControlCard

WAITED = 0.5  #: seconds beyond the spindle's run-down


@dataclass(frozen=True, slots=True)
class Touch:
    """One spot touched several times along one axis; machine coordinates of the gauge line, mm."""

    name: str
    x: float
    y: float
    z: float  #: height to start the search from
    axis: str  #: "x", "y" or "z"
    search_to: float
    count: int
    back: int  #: +1 or -1: which way is off the surface
    first_parameter: int
    tool: int = 0  #: to be put into the spindle first; 0: leave what is there
    feeds: Feeds | None = None  #: of this touch, where they are not the plan's
    rpm: float = 0.0
    turning: str = ""  #: "M3" or "M4", "" standing still
    least: float | None = None  #: a trigger below this is a broken tool, above ``most`` a pulled-out one; machine Z
    most: float | None = None
    orient: float | None = None  #: degrees the spindle is turned to and held at, None: it is not
    tooth: int = 0  #: the edge that is touched where each has a result of its own
    of: int = 0  #: the tool that is touched, 0 where none of a table is
    what: str = ""  #: what it measures, as a printed line says it; "" where nothing is printed of it
    stores: LengthStore | None = None  #: what is stored behind it, where a program stores by itself
    by_hand: str = ""  #: what a person is asked to put into the spindle, where there is no changer
    turn_by_hand: str = ""  #: how a person is asked to turn the spindle, where it cannot be oriented


@dataclass(frozen=True, slots=True)
class TouchPlan:
    """Everything a template needs to write a program."""

    title: str
    lines: tuple[str, ...]  #: plain words for the header
    safe_z: float
    feeds: Feeds
    touches: tuple[Touch, ...]
    still_s: float = 2.0 + WAITED  #: how long a program waits for the spindle to run down
    still_line: str = ""  #: how this machine confirms that it stands, "" where it only waits
    first_scratch: int = 0  #: of the parameters the program works with, where the card names any
    control: ControlCard | None = None  #: how the control says things, and in which unit
    sheets: tuple[str, ...] = ()  #: which sheet takes what is printed, with what it starts from
    first_label: int = 9000  #: of the blocks that stop the machine, where the dialect jumps

    @property
    def unit(self) -> Unit:
        """In which its program is written, and its results are left."""
        return unit_of(self.control)
