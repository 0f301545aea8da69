"""Gauge study: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.gauge import gauge_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.gauge_study import LISTED
from nonna.procedures.gauge_study.evaluate import evaluate
from nonna.procedures.gauge_study.model import StudyReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

PARTS, APPRAISERS, REPEATS, ALONE = 5, 2, 2, 10


def kind_of_study(facts: SheetFacts) -> str:
    """Return whether one operator studies the gauge on a master, or several on parts: "single" or "crossed"."""
    return facts.setup.word("kind", facts.variant or "crossed")


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Part by part in turn, each person; one part, again and again."""
    if kind_of_study(facts) == "single":
        return tuple(
            Slot({"part": 1, "appraiser": 1}, f"{i}/{ALONE}", "Measure the part", "part") for i in range(1, ALONE + 1)
        )
    return tuple(
        Slot(
            {"part": part, "appraiser": who},
            f"P{part} by {who}, {turn}",
            f"Part {part}, person {who}",
            f"person-{who}",
        )
        for turn in range(1, REPEATS + 1)
        for who in range(1, APPRAISERS + 1)
        for part in range(1, PARTS + 1)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if kind_of_study(facts) == "single":
        return (
            Step("Wipe part and gauge"),
            Step("Measure it again and again, taken off in between", "part"),
            Step("Sign"),
        )
    people = [
        Step(f"Person {who}: all parts, in any order, without seeing what was read", f"person-{who}")
        for who in range(1, APPRAISERS + 1)
    ]
    return (Step("Number the parts; take them from the whole range that is made"), *people, Step("Sign"))


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """Every reading of every part, a colour a person."""
    del result
    points: dict[str, dict[str, list[float]]] = {}
    for r in readings:
        points.setdefault(str(as_number(r["part"])), {}).setdefault(str(as_number(r["appraiser"])), []).append(
            as_number(r["value_mm"])
        )
    return gauge_figure(points, facts.setup.number("reference_mm") if kind_of_study(facts) == "single" else None, units)


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=StudyReadings,
    main=("both_mm", "bias_mm"),
    main_title="Scatter of the gauge",
    foreseeable=False,
    reads={"value_mm": "z"},
    offered={"kind": "crossed"},
    variants=(
        Variant("crossed", "Several people, several parts", {"kind": "crossed"}),
        Variant("single", "One gauge, one part", {"kind": "single"}),
    ),
    caution=Caution("Clean and at one temperature", "Wipe parts and gauge, let them take the room's temperature."),
)
