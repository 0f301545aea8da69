"""Safe feeds: fast as far as the sensor's overtravel allows, slow as the accuracy asks."""

from __future__ import annotations

import math
from dataclasses import dataclass

FASTEST_MM_MIN = 600.0
SLOWEST_MM_MIN = 2.0


@dataclass(frozen=True, slots=True)
class Feeds:
    """Feeds of the two touches with their overshoot, mm and mm a minute."""

    fast_mm_min: float
    slow_mm_min: float
    back_off_mm: float


def safe_feeds(
    *, overtravel_mm: float, latency_s: float, jitter_s: float, deceleration_mm_s2: float, accuracy_mm: float
) -> Feeds:
    """Choose the two feeds of a touch.

    The fast touch stops within half the overtravel (``v t + v² / 2a``); the slow one scatters by jitter no
    more than a third of the accuracy wanted. The back-off is the fast touch's worst overshoot plus a margin.
    Raises: ValueError (overtravel, deceleration or accuracy not above 0).
    """
    if min(overtravel_mm, deceleration_mm_s2, accuracy_mm) <= 0.0:
        raise ValueError("overtravel, deceleration and accuracy must be above 0")
    a, t, room = deceleration_mm_s2, latency_s, overtravel_mm / 2.0
    fast = min(a * (math.sqrt(t * t + 2.0 * room / a) - t), FASTEST_MM_MIN / 60.0)
    slow = fast / 3.0 if jitter_s <= 0.0 else min(fast / 3.0, accuracy_mm / 3.0 / jitter_s)
    slow = max(slow, SLOWEST_MM_MIN / 60.0)
    overshoot = fast * t + fast * fast / (2.0 * a)
    return Feeds(
        float(math.floor(fast * 60.0)),
        max(1.0, float(math.floor(slow * 60.0))),
        math.ceil((overshoot + 0.3) * 10.0) / 10.0,
    )
