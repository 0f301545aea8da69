"""Gauge study: how much of what is seen is the gauge, by several people on several parts, or one gauge on one part."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.figures.gauge import gauge_figure
from nonna.metrology.gauge_study import Crossed, crossed, single
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

PARTS, APPRAISERS, REPEATS, ALONE = 5, 2, 2, 10
FEWEST = 2

said = saying("gauge-study")
SENTENCES = {
    "crossed": "The gauge scatters by {both:small} (one standard deviation): {categories:0f} kinds of parts can be told apart.",
    "single": "It reads {bias:signed} off, with a scatter of {s:small}.",
    "repeat": "Most of it is the gauge itself: better clamping, more readings, a finer gauge.",
    "people": "Most of it lies between the people: agree on one way of doing it.",
    "sign": "Sign it.",
}


class StudySetup(Setup):
    """What kind of study it is, and what the gauge is wanted for."""

    kind: Literal["crossed", "single"] = asked(
        "Study", "", "Several people on several parts, or one gauge on one part of known size.", "crossed"
    )
    tolerance_mm: Positive | None = asked("Tolerance of the part", help="The whole width of it.", default=None)
    reference_mm: Number | None = asked("Size of the part", help="From its certificate (one part).", default=None)
    reference_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_dof: Dof | None = carried_dof()


class StudyReading(Strict):
    """One reading of one part by one person."""

    part: int | str
    appraiser: int | str
    value_mm: Number


class StudyReadings(ReadingsFile):
    """Readings file of a gauge study."""

    procedure: Literal["gauge-study"]
    setup: StudySetup
    readings: list[StudyReading]
    value_fields = ("value_mm",)


class GaugeStudy(Procedure):
    """Components of variance of a balanced study, or bias and capability of one gauge."""

    name = "gauge-study"
    sentences = SENTENCES
    model = StudyReadings
    main = ("both_mm", "bias_mm")
    main_title = "Scatter of the gauge"
    foreseeable = False
    reads: ClassVar[dict[str, str]] = {"value_mm": "z"}
    offered: ClassVar[dict[str, Any]] = {"kind": "crossed"}
    variants = (
        Variant("crossed", "Several people, several parts", {"kind": "crossed"}),
        Variant("single", "One gauge, one part", {"kind": "single"}),
    )
    caution = Caution("Clean and at one temperature", "Wipe parts and gauge, let them take the room's temperature.")

    def _evaluate(self, file: StudyReadings) -> Evaluation:
        return _single(file) if file.setup.kind == "single" else _crossed(file)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Part by part in turn, each person; one part, again and again."""
        if _kind(bench) == "single":
            return tuple(
                Slot({"part": 1, "appraiser": 1}, f"{i}/{ALONE}", "Measure the part", "part")
                for i in range(1, ALONE + 1)
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

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        if _kind(bench) == "single":
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

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """Every reading of every part, a colour a person."""
        del result
        points: dict[str, dict[str, list[float]]] = {}
        for r in readings:
            points.setdefault(str(r["part"]), {}).setdefault(str(r["appraiser"]), []).append(float(r["value_mm"]))
        return gauge_figure(points, bench.setup.number("reference_mm") if _kind(bench) == "single" else None, units)


def _kind(bench: Bench) -> str:
    return bench.setup.word("kind", bench.variant or "crossed")


def _crossed(file: StudyReadings) -> Evaluation:
    study = crossed(_table(file.readings), file.setup.resolution_mm)
    rows = (
        ("repeatability", "The gauge itself", study.repeatability), ("reproducibility", "Between people", study.reproducibility),
        ("both", "Scatter of the gauge", study.both), ("parts", "Between parts", study.parts), ("total", "All that is seen", study.total),
    )  # fmt: skip
    quantities = (
        *(Quantity(f"{name}_mm", title, value) for name, title, value in rows),
        Quantity("categories", "Kinds of parts told apart", float(study.categories), "1"),
        Quantity("interaction_p", "Interaction, by chance alone", study.interaction_p, "1"),
    )
    return Evaluation(
        file.procedure, quantities, file.rule.rule(), said("crossed", both=study.both, categories=study.categories),
        said("sign"), advice=(_advice(study),), extras={"shares": {name: study.share(value) for name, _, value in rows}},
    )  # fmt: skip


def _advice(study: Crossed) -> Any:
    return said("people" if study.reproducibility > study.repeatability else "repeat")


def _table(readings: list[StudyReading]) -> np.ndarray[Any, np.dtype[np.float64]]:
    """Return values by part, appraiser and turn. Raises: TooFewReadingsError (too small, or not balanced)."""
    cells: dict[tuple[str, str], list[float]] = {}
    for r in readings:
        cells.setdefault((str(r.part), str(r.appraiser)), []).append(r.value_mm)
    parts, people = sorted({part for part, _ in cells}), sorted({who for _, who in cells})
    repeats = len(next(iter(cells.values()), []))
    if min(len(parts), len(people), repeats) < FEWEST:
        raise TooFewReadingsError("Two parts, two people and two readings each are needed at least.")
    for part in parts:
        for who in people:
            count = len(cells.get((part, who), ()))
            if count != repeats:
                raise TooFewReadingsError(
                    "Part {part} by {who} has {count} readings, others {repeats}: each needs as many.",
                    part=part, who=who, count=count, repeats=repeats,
                )  # fmt: skip
    return np.array([[cells[part, who] for who in people] for part in parts])


def _single(file: StudyReadings) -> Evaluation:
    setup, values = file.setup, [r.value_mm for r in file.readings]
    if setup.reference_mm is None:
        raise NonnaError(
            "missing-field", "setup.reference_mm: the size of the part is needed for its bias.", "setup.reference_mm"
        )
    if len(values) < FEWEST:
        raise TooFewReadingsError("Two readings of the part are needed at least.")
    first = file.readings[0].part
    for i, reading in enumerate(file.readings):
        if str(reading.part) != str(first):
            where = f"readings[{i}].part"
            words = "{place}: this study is of one part, {first}, and here stands {other}. For several parts choose the crossed study."
            raise NonnaError("out-of-range", words, where, place=where, first=first, other=reading.part)
    found = single(values, setup.reference_mm, setup.resolution_mm)
    influences = Influences()
    mean = influences.add(
        "scatter of the readings",
        found.bias + setup.reference_mm,
        *touch_scatter([values], resolution=setup.resolution_mm).mean_u(len(values)),
    )
    bias = influences.estimate(mean - setup.enter(influences, "reference", "size of the part"))
    quantities = [
        Quantity.of("bias_mm", "It reads off by", bias),
        Quantity("bias_p", "By chance alone", found.bias_p, "1"),
    ]
    if setup.tolerance_mm is not None:
        quantities += [
            Quantity("cg", "Capability by scatter", found.cg(setup.tolerance_mm), "1"),
            Quantity("cgk", "Capability with bias", found.cgk(setup.tolerance_mm), "1"),
        ]
    return Evaluation(
        file.procedure, tuple(quantities), file.rule.rule(), said("single", bias=found.bias, s=found.s), said("sign")
    )
