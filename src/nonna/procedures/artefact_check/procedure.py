"""Artefact check: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.proof import artefact_figure
from nonna.procedures import offers
from nonna.procedures.artefact_check import LISTED
from nonna.procedures.artefact_check.evaluate import evaluate
from nonna.procedures.artefact_check.model import ArtefactReadings
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.sheet import REPEATABILITY, Need, Procedure, with_doubt
from nonna.wording.lengths import Units

TIMES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three measurements; one for the daily check."""
    if facts.variant == "daily":
        return (Slot({}, "1/1", "Z of the touch less the trigger plane", "values"),)
    return tuple(Slot({}, f"{i + 1}/{TIMES}", "Measured value", "values") for i in range(TIMES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if facts.variant == "daily":
        return (
            Step("Wipe taper, master and pad; spindle stopped"),
            Step("Touch the setter once with the master", "values"),
            Step("Sign"),
        )
    what = "diameter" if facts.variant in ("", "diameter") else "length"
    return (
        Step("Fetch an artefact that no calibration here has used; let it take the machine's temperature"),
        Step(f"Measure its {what} with the probe, three times", "values"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What its certificate says."""
    del slot, readings, field
    name = "diameter_mm" if facts.variant in ("", "diameter") else "length_mm"
    value = facts.master("artefact").number(name)
    return value or None


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The error with its doubt beside the artefact's own."""
    artefact = facts.master("artefact")
    name = "diameter" if facts.variant in ("", "diameter") else "length"
    certified = artefact.number(f"U_{name}_mm", 0.0) * 2.0 / artefact.number("k", 2.0)
    estimate = result.quantity("error_mm").estimate if result else None
    return artefact_figure(
        certified, (estimate.value, estimate.expanded) if estimate else None,
        result.quantity("en").value if result else None, units,
    )  # fmt: skip


SENTENCES = {
    "found": "The artefact comes out {e:signed} off, ± {U:small}: Eₙ {en:2f}.",
    "not-held": "The loop does not hold its promise. Look at closure and temperature, then redo the weakest link.",
    "pass": "Sign it: the loop is proved.",
    "fail": "The doubt is honest, but the error is over its limit: calibrate again.",
    "undecided": "Measure it again, or with a better artefact.",
    "none": "Measure it again, or with a better artefact.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"daily": "artefact-on-setter", "": "artefact-probed"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ArtefactReadings,
    main=("error_mm",),
    main_title="Error",
    role="artefact",
    master_kinds=("ring", "block", "master-tool"),
    variants=(
        Variant("diameter", "Diameter", {"quantity": "diameter"}, ("ring",)),
        Variant("length", "Length", {"quantity": "length"}, ("block", "master-tool")),
        Variant("daily", "One touch of the master", {"quantity": "length", "limit_mm": 0.01}, ("master-tool",)),
    ),
    needs=(
        Need("calibration_u_mm", offers.BALL_RADIUS, "u", "ring", ("diameter",), factor=2.0),
        Need("calibration_dof", offers.BALL_RADIUS, "dof", "ring", ("diameter",)),
        *with_doubt("calibration", offers.PROBE_LENGTH, "probe", ("length",))[1:],
        *with_doubt("calibration", offers.TRIGGER_PLANE, "setter", ("daily",))[1:],
        *(replace(carry, variants=("daily",)) for carry in REPEATABILITY),
    ),
    offered={"limit_mm": 0.004, "resolution_mm": 0.0001},
    caution=Caution(
        "Hands clear while it moves",
        "Spindle locked for the probe, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
