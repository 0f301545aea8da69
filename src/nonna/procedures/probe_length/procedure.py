"""Probe length: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.probe_length import LISTED
from nonna.procedures.probe_length.evaluate import evaluate
from nonna.procedures.probe_length.model import ProbeLengthReadings
from nonna.procedures.sheet import REPEATABILITY, Procedure, with_doubt
from nonna.procedures.touching import Touching
from nonna.wording.lengths import Units, length

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the surface", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    first = {
        "block": "Stand the block where its top's height is known (F9); wipe ball and block",
        "cut": "Face a spot with a measured tool; its Z less the tool's length is the surface (F9)",
    }.get(facts.variant, "Wipe taper, ball and pad")
    return (
        Step(first),
        Step("Seat the probe, wake it, spindle locked"),
        Step("Touch the surface three times", "touch"),
        Step("Sign"),
    )


ABOUT_MM = 120.0  #: drawn until the first result


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The probe over the setter, to scale once its length is known."""
    known = None if result is None else result.quantity("probe_length_mm").value
    return over_setter(
        {"block": "Probe over a block", "cut": "Probe over a test cut"}.get(facts.variant, "Probe over the setter"),
        "probe",
        6.0,
        known if known is not None and known > 0.0 else ABOUT_MM,
        pad=facts.pad_width,
        gap=0.0 if readings else 12.0,
        plane="surface",
        part=facts.variant in ("block", "cut"),
        length_words="length not known yet" if known is None else length(known, units),
        known=known is not None,
    )


SENTENCES = {
    "found": "Probe length {length:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"setter": "probe-on-setter", "": "probe-on-surface"},
    touching={"setter": Touching("Probe length", "probe")},
    steps=steps,
    figure=figure,
    model=ProbeLengthReadings,
    main=("probe_length_mm",),
    main_title="Probe length",
    compares=True,
    variants=(
        Variant("setter", "On the setter"),
        Variant("block", "On a block of known height"),
        Variant("cut", "By test cut"),
    ),
    offered={"resolution_mm": 0.0001},
    needs=(
        *(replace(carry, variants=("setter",)) for carry in REPEATABILITY),
        *with_doubt("surface", offers.TRIGGER_PLANE, "setter", ("setter",)),
    ),
    caution=Caution(
        "A probe breaks quickly",
        "Spindle locked against turning, probe awake, rapid turned down, a finger on feed hold, doors shut.",
    ),
)
