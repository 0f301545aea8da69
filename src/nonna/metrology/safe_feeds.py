"""Safe feeds: fast as far as the sensor's overtravel allows, slow as the accuracy asks."""

from __future__ import annotations

import math
from dataclasses import dataclass

FASTEST_MM_MIN = 600.0
SLOWEST_MM_MIN = 2.0
SLOWEST_TURNING_MM_MIN = 0.01  #: below this nothing is written: two decimals of it are nought
SHORTEST_SEARCH_MM = 0.3  #: a straight probe shorter than 0.254 mm is an error of the language (NIST IR 6556, 3.5.9)


NEARLY_ALL, UNLUCKY_SIGMAS = 0.9, 5.0  #: of the overtravel even the most unlucky trigger may use
ROOM = 0.3  #: air left beyond the fast touch's worst overshoot, mm
LITTLE_ROOM = 0.1  #: ... beyond a slower one's
FURTHER = 0.5  #: a search goes this share of the overtravel beyond the shortest or thinnest the tool can be


def stopping_mm(feed_mm_min: float, latency_s: float, deceleration_mm_s2: float) -> float:
    """Return how far the machine runs on after the sensor's contact: ``v t + v² / 2a``.

    Raises: ValueError (deceleration not above 0).
    """
    if deceleration_mm_s2 <= 0.0:
        raise ValueError("deceleration must be above 0")
    v = feed_mm_min / 60.0
    return v * latency_s + v * v / (2.0 * deceleration_mm_s2)


def fastest_mm_min(room_mm: float, latency_s: float, deceleration_mm_s2: float) -> float:
    """Return the feed at which the machine just stops within so much room (0 where there is none).

    Raises: ValueError (deceleration not above 0).
    """
    if deceleration_mm_s2 <= 0.0:
        raise ValueError("deceleration must be above 0")
    a, room = deceleration_mm_s2, max(0.0, room_mm)
    return 60.0 * a * (math.sqrt(latency_s * latency_s + 2.0 * room / a) - latency_s)


def safe_feeds(
    *,
    overtravel_mm: float,
    latency_s: float,
    jitter_s: float,
    deceleration_mm_s2: float,
    accuracy_mm: float,
    rpm: float = 0.0,
) -> Feeds:
    """Choose the feeds of a touch.

    The fast touch stops within half the overtravel (``v t + v² / 2a``), and within nearly all of it when the
    trigger comes five standard deviations late; the slow one scatters by jitter no
    more than a third of the accuracy wanted and, turning, advances no more than the accuracy a turn, for the
    true edge passes once a turn. Where the slow one is very slow a middle stage shortens its way; the feed
    of least time is taken. Each stage backs off by its worst overshoot plus a margin.
    Raises: ValueError (overtravel, deceleration or accuracy not above 0).
    """
    if min(overtravel_mm, deceleration_mm_s2, accuracy_mm) <= 0.0:
        raise ValueError("overtravel, deceleration and accuracy must be above 0")
    a, room = deceleration_mm_s2, overtravel_mm / 2.0
    late = latency_s + (60.0 / rpm if rpm else 0.0)

    def overshoot(v: float) -> float:
        return stopping_mm(v * 60.0, late, a)

    unlucky = fastest_mm_min(NEARLY_ALL * overtravel_mm, late + UNLUCKY_SIGMAS * jitter_s, a)
    fast = min(fastest_mm_min(room, late, a), unlucky, FASTEST_MM_MIN) / 60.0
    slow = fast / 3.0 if jitter_s <= 0.0 else min(fast / 3.0, accuracy_mm / 3.0 / jitter_s)
    if rpm:
        slow = min(slow, accuracy_mm * rpm / 60.0)
    slow = max(slow, SLOWEST_MM_MIN / 60.0) if not rpm else slow
    back = math.ceil((overshoot(fast) + ROOM) * 10.0) / 10.0
    fast_mm_min, slow_mm_min = float(math.floor(fast * 60.0)), slow * 60.0
    turning = max(SLOWEST_TURNING_MM_MIN, math.floor(slow_mm_min * 100.0) / 100.0)
    slow_mm_min = max(1.0, float(math.floor(slow_mm_min))) if not rpm else turning
    slow, least = slow_mm_min / 60.0, max(LITTLE_ROOM, SHORTEST_SEARCH_MM - FURTHER * overtravel_mm)
    middle, last = 0.0, math.ceil((overshoot(slow) + least) * 100.0) / 100.0
    best = back / slow
    for i in range(1, 24):
        v = slow * (fast / slow) ** (i / 24.0)
        after = overshoot(v) + least
        seconds = back / v + after / slow
        if seconds < 0.8 * best:
            best, middle, last = seconds, math.floor(v * 60.0), math.ceil(after * 100.0) / 100.0
    if not middle and not rpm:
        last = 0.0
    return Feeds(fast_mm_min, slow_mm_min, back, float(middle), last if middle or rpm else 0.0)


@dataclass(frozen=True, slots=True)
class Feeds:
    """Feeds of the stages of a touch, mm a minute, with what each backs off afterwards, mm."""

    fast_mm_min: float
    slow_mm_min: float
    back_off_mm: float  #: after the fast touch
    middle_mm_min: float = 0.0  #: a stage between; 0: none, it would cost more time than it saves
    last_back_mm: float = 0.0  #: after the middle and each slow touch; 0: as after the fast one

    @property
    def again_mm(self) -> float:
        """What a slow touch backs off."""
        return self.last_back_mm or self.back_off_mm
