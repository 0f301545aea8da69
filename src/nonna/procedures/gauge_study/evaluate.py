"""Gauge study: how much of what is seen is the gauge, by several people on several parts, or one gauge on one part."""

from __future__ import annotations

import numpy as np

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.fits import Floats
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.gauge_study import Crossed, crossed, single
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.gauge_study.model import StudyReading, StudyReadings
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("gauge-study")

FEWEST = 2


def _crossed(file: StudyReadings) -> Evaluation:
    study = crossed(_table(file.readings), file.setup.resolution_mm)
    rows = (
        ("repeatability", "The gauge itself", study.repeatability),
        ("reproducibility", "Between people", study.reproducibility),
        ("both", "Scatter of the gauge", study.both), ("parts", "Between parts", study.parts),
        ("total", "All that is seen", study.total),
    )  # fmt: skip
    quantities = (
        *(Quantity(f"{name}_mm", title, value) for name, title, value in rows),
        Quantity("categories", "Kinds of parts told apart", float(study.categories), "1"),
        Quantity("interaction_p", "Interaction, by chance alone", study.interaction_p, "1"),
    )
    return Evaluation(
        file.procedure, quantities, file.rule.rule(), said("crossed", both=study.both, categories=study.categories),
        said("sign"), advice=(_advice(study),),
        extras={"shares": {name: study.share(value) for name, _, value in rows}},
    )  # fmt: skip


def _advice(study: Crossed) -> Reason:
    return said("people" if study.reproducibility > study.repeatability else "repeat")


def _table(readings: list[StudyReading]) -> Floats:
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
            words = (
                "{place}: this study is of one part, {first}, and here stands {other}. For several parts "
                "choose the crossed study."
            )
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


def evaluate(file: StudyReadings) -> Evaluation:
    """Components of variance of a balanced study, or bias and capability of one gauge."""
    return _single(file) if file.setup.kind == "single" else _crossed(file)
