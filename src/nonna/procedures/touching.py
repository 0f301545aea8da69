"""How a machine with a setter takes a sheet's readings by a program: data, for its stand-in and for the machine itself.

The touches themselves are the sheet's slots; here stands which of their fields say where and how each is made.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Touching:
    """What hangs in the spindle, and how the slots of a sheet become touches of the setter."""

    title: str  #: of the program
    held: Literal["master", "probe", "tool"]
    face: str = ""  #: field of a slot that names the face touched ("top", "+x" ...); "": the top each time
    feed: str = ""  #: field of a slot that names the feed of its touch, mm/min; "": the setter's safe ones
    value: str = "position_mm"  #: field of a reading that takes the result
