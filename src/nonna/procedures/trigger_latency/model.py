"""Trigger latency: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof
from nonna.shop.texts.strict_model import NotNegative, Number, Positive, Strict

FEEDS_MM_MIN = (50.0, 200.0, 400.0)  #: where the sheet does not say otherwise


class LatencySetup(Setup):
    """Setup of a latency test."""

    towards: Literal["minus", "plus"] = asked(
        "Moves towards", "", "Which way the axis counts while it searches; down on a table is minus.", "minus"
    )
    slow_mm_min: Positive = asked("Slow feed", "mm/min", "A few times the usual slow touch.", FEEDS_MM_MIN[0])
    middle_mm_min: Positive = asked("Middle feed", "mm/min", "About half of the fast one.", FEEDS_MM_MIN[1])
    fast_mm_min: Positive = asked(
        "Fast feed", "mm/min", "As fast as the setter's overtravel allows, never faster.", FEEDS_MM_MIN[2]
    )
    before_s: Number | None = asked("Lateness before", "s", "From the record before.", None)
    before_u_s: NotNegative = asked("Its standard uncertainty", "s", "Of the record before.", 0.0)
    before_dof: Dof | None = carried_dof()


class FeedReading(Strict):
    """The position the control latched, and at what feed."""

    feed_mm_min: Positive
    position_mm: Number


class LatencyReadings(ReadingsFile):
    """Readings file of a latency test."""

    procedure: Literal["trigger-latency"]
    setup: LatencySetup
    readings: list[FeedReading]
