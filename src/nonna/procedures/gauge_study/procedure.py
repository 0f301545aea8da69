"""Gauge study: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, exaggeration
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.gauge_study import LISTED
from nonna.procedures.gauge_study.evaluate import evaluate
from nonna.procedures.gauge_study.model import StudyReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units, small

_INKS: tuple[Ink, ...] = ("accent", "due", "steel-dark", "master", "muted")
WIDE, HIGH = 100.0, 44.0


def gauge_figure(
    points: Mapping[str, Mapping[str, Sequence[float]]], middle: float | None, units: Units = Units.MM
) -> Figure:
    """Draw deviations over the parts, one colour and column an appraiser.

    Parameters: points, values in mm by part and appraiser; middle, what deviations are counted from (None: their mean).
    """
    values = [v for row in points.values() for cell in row.values() for v in cell]
    if not values:
        empty: tuple[Stroke, ...] = (
            Line((0, 0), (WIDE, 0), "faint"),
            Label((WIDE / 2, 6), "a dot a reading", "muted", 14),
        )
        return Figure("Readings by part", (-6, -HIGH / 2 - 8, WIDE + 6, HIGH / 2 + 8), empty, "")
    zero = sum(values) / len(values) if middle is None else middle
    reach = max(max(abs(v - zero) for v in values), 1e-6)
    scale = HIGH / 2 / reach
    appraisers = sorted({name for row in points.values() for name in row})
    step = WIDE / len(points)
    strokes: list[Stroke] = [Line((0, 0), (WIDE, 0), "muted", 1.0, True)]
    for i, (part, row) in enumerate(points.items()):
        strokes.append(Label(((i + 0.5) * step, -HIGH / 2 - 5), part, "muted", 13))
        for name, cell in row.items():
            k = appraisers.index(name)
            x = (i + 0.2 + 0.6 * (k + 0.5) / len(appraisers)) * step
            strokes += [Circle((x, (v - zero) * scale), 4, _INKS[k % len(_INKS)], None, dot=True) for v in cell]
    for k, name in enumerate(appraisers[: len(_INKS)]):
        strokes.append(
            Label(
                (k * WIDE / max(1, len(appraisers)), HIGH / 2 + 5),
                f"person {name}",
                _INKS[k % len(_INKS)],
                13,
                True,
                "left",
            )
        )
    note = f"{exaggeration(scale)}; full height {small(2 * reach, units)}"
    return Figure("Readings by part", (-6, -HIGH / 2 - 10, WIDE + 6, HIGH / 2 + 10), tuple(strokes), note)


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


SENTENCES = {
    "crossed": "The gauge scatters by {both:small} (one standard deviation): {categories:0f} kinds of parts can be "
    "told apart.",
    "single": "It reads {bias:signed} off, with a scatter of {s:small}.",
    "repeat": "Most of it is the gauge itself: better clamping, more readings, a finer gauge.",
    "people": "Most of it lies between the people: agree on one way of doing it.",
    "sign": "Sign it.",
}


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
