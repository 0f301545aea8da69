"""Safe feeds of a sensor, a machine and the smallest tool, with what a person is told beside them."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.metrology.safe_feeds import Feeds, fastest_mm_min, safe_feeds, stopping_mm

USUAL_MM_MIN = 600.0  #: at which small drills break


@dataclass(frozen=True, slots=True)
class FeedAdvice:
    """Feeds, and how far the machine runs on (mm)."""

    feeds: Feeds
    fast_runs_on_mm: float  #: at the fast touch
    used_up_mm_min: float  #: the feed at which all the room there is would be used up
    usual_runs_on_mm: float  #: at `USUAL_MM_MIN`


def feed_advice(
    *, room_mm: float, latency_s: float, jitter_s: float, deceleration_mm_s2: float, accuracy_mm: float, rpm: float
) -> FeedAdvice:
    """Work feeds out. Parameters: room_mm, what sensor and tool give together. Raises: ValueError (none of it)."""
    feeds = safe_feeds(
        overtravel_mm=room_mm, latency_s=latency_s, jitter_s=jitter_s, deceleration_mm_s2=deceleration_mm_s2,
        accuracy_mm=accuracy_mm, rpm=rpm,
    )  # fmt: skip
    late, brakes = latency_s, deceleration_mm_s2
    return FeedAdvice(
        feeds, stopping_mm(feeds.fast_mm_min, late, brakes), fastest_mm_min(room_mm, late, brakes),
        stopping_mm(USUAL_MM_MIN, late, brakes),
    )  # fmt: skip
