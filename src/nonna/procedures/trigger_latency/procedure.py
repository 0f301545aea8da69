"""Trigger latency: what the hands do, its drawing, and everything together."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.figures.figure import Circle, Figure, Label, Line, Stroke, box
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Need, NeedPart, Procedure
from nonna.procedures.touching import Touching
from nonna.procedures.trigger_latency import LISTED
from nonna.procedures.trigger_latency.evaluate import evaluate
from nonna.procedures.trigger_latency.model import FEEDS_MM_MIN, LatencyReadings
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units, small

WIDE, HIGH = 120.0, 60.0


def late_line(
    touches: Sequence[tuple[float, float]],
    line: tuple[float, float] | None,
    feeds: Sequence[float],
    units: Units = Units.MM,
) -> Figure:
    """Draw positions against feeds and the line through them.

    Parameters: touches as (mm/min, mm); line as (plane at no speed, mm; slope, s), None before it is known; feeds that
    are wanted (mm/min), marked below.
    """
    fastest = max([*feeds, *(feed for feed, _ in touches)]) * 1.1
    strokes: list[Stroke] = [box(0, 0, WIDE, HIGH, "paper", None), Line((0, 0), (WIDE, 0), "muted", 1.0)]
    for feed in sorted({*feeds, *(feed for feed, _ in touches)}):
        x = WIDE * feed / fastest
        strokes += [Line((x, 0), (x, HIGH), "faint", 1.0), Label((x, -5), f"{feed:g}", "muted", 13)]
    strokes.append(Label((WIDE, -11), "mm/min", "muted", 13, anchor="right"))
    if not touches:
        strokes.append(Label((WIDE / 2, HIGH / 2), "each touch will stand above its feed", "muted", 14))
        return Figure("How late the trigger is", (-6, -15, WIDE + 6, HIGH + 6), tuple(strokes), "not to scale")
    centre = math.fsum(at for _, at in touches) / len(touches)
    heights = [at - centre for _, at in touches]
    if line is not None:
        heights += [line[0] - centre, line[0] + line[1] * fastest / 60.0 - centre]
    reach = max(*map(abs, heights), 1e-4) * 1.15

    def place(feed: float, at: float) -> tuple[float, float]:
        return WIDE * feed / fastest, HIGH / 2 + (at - centre) / reach * HIGH / 2

    if line is not None:
        plane, slope = line
        strokes += [
            Line(place(0.0, plane), (WIDE, place(0.0, plane)[1]), "muted", 1.0, dashed=True),
            Label((WIDE, place(0.0, plane)[1]), "plane at no speed", "muted", 13, anchor="right", dy=-6),
            Line(place(0.0, plane), place(fastest, plane + slope * fastest / 60.0), "accent", 2.0),
        ]
    strokes += [Circle(place(feed, at), 5, "paper", "accent", 2.0, dot=True) for feed, at in touches]
    return Figure(
        "How late the trigger is",
        (-6, -15, WIDE + 6, HIGH + 6),
        tuple(strokes),
        f"height stretched: the full height is {small(2 * reach, units)}",
    )


TOUCHES = 5


def feeds_of_sheet(setup: Given) -> tuple[tuple[str, float], ...]:
    """Return the three feeds of a sheet by what they are called."""
    names = ("slow", "middle", "fast")
    return tuple(
        (name, setup.number(f"{name}_mm_min", 0.0) or usual) for name, usual in zip(names, FEEDS_MM_MIN, strict=True)
    )


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Five touches at each feed, the slow one first."""
    return tuple(
        Slot({"feed_mm_min": feed}, f"{feed:g} {i + 1}/{TOUCHES}", f"Touch at {feed:g} mm/min", name)
        for name, feed in feeds_of_sheet(facts.setup)
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    return (
        Step("Master or a blunt tool in the spindle, stopped; wipe both faces"),
        Step("Same start height for all, 5 mm above the pad"),
        *(Step(f"Touch {TOUCHES} times at {feed:g} mm/min", name) for name, feed in feeds_of_sheet(facts.setup)),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Where it latched against the feed, with the line."""
    touches = [(as_number(r["feed_mm_min"]), as_number(r["position_mm"])) for r in readings]
    found = {q.name: q.value for q in result.quantities} if result else {}
    sign = 1.0 if facts.setup.word("towards") == "plus" else -1.0
    line = (found["plane_mm"], sign * found["latency_s"]) if found else None
    return late_line(touches, line, [feed for _, feed in feeds_of_sheet(facts.setup)], units)


_BEFORE: tuple[tuple[str, NeedPart], ...] = (("before_s", "value"), ("before_u_s", "u"), ("before_dof", "dof"))


SENTENCES = {
    "found": "The trigger comes {late:2f} ms late, ± {U:2f} ms: {way:small} at {feed:0f} mm/min.",
    "sign": "Sign it, then put it on the machine's card (Shelf, F10): feeds are chosen by it.",
    "early": "The trigger cannot come before the contact. Were the feeds noted the right way round? Does the axis "
    "really move that way?",
    "crooked": "At {feed:0f} mm/min it stands {off:small} off the line: was that feed really reached? Back off "
    "further, turn the override to 100 % and do that feed again.",
    "changed": "It was {before:2f} ms before: {off:2f} ms from that, beyond both doubts. Was a feed noted wrongly, "
    "was the override at 100 %? "
    "Is it another setter, cable or stylus?",
    "no-jitter": "Faster touches do not scatter more than slow ones: jitter is too small to be seen here.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "touch-at-feeds"},
    touching={"": Touching("Trigger latency", "master", feed="feed_mm_min")},
    steps=steps,
    figure=figure,
    model=LatencyReadings,
    main=("latency_s",),
    main_title="Trigger comes late by",
    needs=tuple(Need(name, offers.TRIGGER_LATENESS, part, "repeatability", needed=False) for name, part in _BEFORE),
    offered={"resolution_mm": 0.0001},
    caution=Caution(
        "The fast touches are really fast",
        "Spindle stopped and confirmed, doors shut, feed override at 100 %, a finger on feed hold. Begin with the "
        "slow feed.",
    ),
)
