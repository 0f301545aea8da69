"""How tools are touched, as data: what was chosen and why, what somebody wanted otherwise."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from nonna.metrology.safe_feeds import Feeds
from nonna.programs.writing.touches import Touch
from nonna.shop.cards.job import JobTool
from nonna.shop.texts.given import Plain

Method = Literal["centre-static", "offset-rotating", "rim-rotating", "edge-oriented"]
Direction = Literal["stopped", "cw", "ccw"]


@dataclass(frozen=True, slots=True)
class Choice:
    """How one tool is touched, and why."""

    method: Method
    offset_mm: tuple[float, float]  #: spindle axis minus setter centre
    rpm: float
    direction: Direction
    reasons: tuple[str, ...]
    refused: str = ""  #: why it must not be touched here at all, "" when it may


@dataclass(frozen=True, slots=True)
class Wish:
    """A touch decided by hand, remembered with its reason."""

    method: Method
    side: str = "+x"
    distance_mm: float = 0.0  #: off centre; of no account at the centre
    reason: str = ""


@dataclass(frozen=True, slots=True)
class ToolPlan:
    """One tool's plan."""

    tool: JobTool
    choice: Choice
    feeds: Feeds
    approach_z: float
    search_to_z: float
    seconds: float
    reasons: tuple[str, ...]
    refused: str
    touches: tuple[Touch, ...]

    def to_document(self) -> dict[str, Plain]:
        """Return the plan as its report has it."""
        return {
            "number": self.tool.number,
            "method": self.choice.method,
            "offset_mm": {"x": self.choice.offset_mm[0], "y": self.choice.offset_mm[1]},
            "spindle_rpm": self.choice.rpm,
            "spindle_direction": self.choice.direction,
            "fast_feed_mm_min": self.feeds.fast_mm_min,
            "slow_feed_mm_min": self.feeds.slow_mm_min,
            "approach_z_mm": self.approach_z,
            "search_to_z_mm": self.search_to_z,
            "seconds": self.seconds,
            "reasons": list(self.reasons),
            "refused": self.refused or None,
        }


ACCURACY_MM = 0.001  #: of calibrations and of tools alike: at one feed the trigger is equally late, and that cancels
