"""Trigger latency: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lateness import late_line
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Need, NeedPart, Procedure
from nonna.procedures.touching import Touching
from nonna.procedures.trigger_latency import LISTED
from nonna.procedures.trigger_latency.evaluate import evaluate
from nonna.procedures.trigger_latency.model import FEEDS_MM_MIN, LatencyReadings
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units

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
