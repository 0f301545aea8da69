"""Trigger latency: the same spot touched at several feeds tells how late the trigger is, and how much that jitters."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.figures.lateness import late_line
from nonna.metrology.lateness import fit_lateness
from nonna.metrology.uncertain import Estimate, Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof
from nonna.procedures.sheet import Bench, Carry, CarryPart, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

FEEDS_MM_MIN = (50.0, 200.0, 400.0)  #: where the sheet does not say otherwise
TOUCHES = 5
_BEFORE: tuple[tuple[str, CarryPart], ...] = (("before_s", "value"), ("before_u_s", "u"), ("before_dof", "dof"))

said = saying("trigger-latency")
SENTENCES = {
    "found": "The trigger comes {late:2f} ms late, ± {U:2f} ms: {way:small} at {feed:0f} mm/min.",
    "sign": "Sign it, then put it on the machine's card (Shelf, F10): feeds are chosen by it.",
    "early": "The trigger cannot come before the contact. Were the feeds noted the right way round? Does the axis really move that way?",
    "crooked": "At {feed:0f} mm/min it stands {off:small} off the line: was that feed really reached? Back off further, turn the override to 100 % and do that feed again.",
    "changed": "It was {before:2f} ms before: {off:2f} ms from that, beyond both doubts. Was a feed noted wrongly, was the override at 100 %? "
    "Is it another setter, cable or stylus?",
    "no-jitter": "Faster touches do not scatter more than slow ones: jitter is too small to be seen here.",
}


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


class TriggerLatency(Procedure):
    """``position = plane - latency * feed`` by a line through the means at three feeds or more."""

    name = "trigger-latency"
    sentences = SENTENCES
    model = LatencyReadings
    main = ("latency_s",)
    main_title = "Trigger comes late by"
    carries = tuple(
        Carry(name, "trigger-latency", "latency_s", part, "repeatability", needed=False) for name, part in _BEFORE
    )
    offered: ClassVar[dict[str, Any]] = {"resolution_mm": 0.0001}
    caution = Caution(
        "The fast touches are really fast",
        "Spindle stopped and confirmed, doors shut, feed override at 100 %, a finger on feed hold. Begin with the slow feed.",
    )

    def _evaluate(self, file: LatencyReadings) -> Evaluation:
        groups: dict[float, list[float]] = {}
        for reading in file.readings:
            groups.setdefault(reading.feed_mm_min, []).append(reading.position_mm)
        towards = 1 if file.setup.towards == "plus" else -1
        found = fit_lateness(groups, towards=towards, **file.setup.history())
        fast = max(groups)
        late = found.late
        flags, advice = [], []
        if late.value + late.expanded < 0.0:
            flags.append("trigger-before-contact")
            advice.append(said("early"))
        if found.above_history:
            flags.append("scatter-above-history")
        if not found.straight:
            flags.append("not-straight")
            feed, off = max(found.off_line, key=lambda row: abs(row[1].value) / row[1].expanded)
            advice.append(said("crooked", feed=feed, off=abs(off.value)))
        if file.setup.before_s is not None and (apart := _apart(late, file.setup)):
            flags.append("changed-since")
            advice.append(said("changed", before=file.setup.before_s * 1000.0, off=apart * 1000.0))
        if found.jitter_s == 0.0:
            advice.append(said("no-jitter"))
        return Evaluation(
            file.procedure,
            (
                Quantity.of("latency_s", "Trigger late by", late, "s"),
                Quantity("jitter_s", "Jitter of the trigger (1 s)", found.jitter_s, "s"),
                Quantity.of("plane_mm", "Plane at no speed", found.plane),
                Quantity("way_mm", f"Way lost at {fast:g} mm/min", late.value * fast / 60.0),
            ),
            file.rule.rule(),
            said(
                "found",
                late=late.value * 1000.0,
                U=late.expanded * 1000.0,
                way=late.value * fast / 60.0,
                feed=fast,
            ),
            said("sign"),
            (),
            tuple(flags),
            tuple(advice),
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Five touches at each feed, the slow one first."""
        return tuple(
            Slot({"feed_mm_min": feed}, f"{feed:g} {i + 1}/{TOUCHES}", f"Touch at {feed:g} mm/min", name)
            for name, feed in _feeds(bench.setup)
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        return (
            Step("Master or a blunt tool in the spindle, stopped; wipe both faces"),
            Step("Same start height for all, 5 mm above the pad"),
            *(Step(f"Touch {TOUCHES} times at {feed:g} mm/min", name) for name, feed in _feeds(bench.setup)),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """Where it latched against the feed, with the line."""
        touches = [(float(r["feed_mm_min"]), float(r["position_mm"])) for r in readings]
        found = {q.name: q.value for q in result.quantities} if result else {}
        sign = 1.0 if bench.setup.word("towards") == "plus" else -1.0
        line = (found["plane_mm"], sign * found["latency_s"]) if found else None
        return late_line(touches, line, [feed for _, feed in _feeds(bench.setup)], units)


def _apart(late: Estimate, setup: LatencySetup) -> float:
    """Return how far it is from the record before, s; 0 within both doubts: a trigger hardly changes by itself."""
    influences = Influences()
    now = influences.add("now", late.value, late.u, late.dof)
    then = influences.add(
        "before", setup.before_s or 0.0, setup.before_u_s, math.inf if setup.before_dof is None else setup.before_dof
    )
    apart = influences.estimate(now - then)
    return apart.value if abs(apart.value) > apart.expanded else 0.0


def _feeds(setup: Mapping[str, Any]) -> tuple[tuple[str, float], ...]:
    """Return the three feeds of a sheet by what they are called."""
    names = ("slow", "middle", "fast")
    return tuple(
        (name, float(setup.get(f"{name}_mm_min") or usual)) for name, usual in zip(names, FEEDS_MM_MIN, strict=True)
    )
