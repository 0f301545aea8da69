"""Part on the lathe: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.lathe import part_figure
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.sheet import REPEATABILITY, Procedure, with_doubt
from nonna.procedures.shown import as_shown
from nonna.shop.texts.given import Given, Plain
from nonna.stations.lathe.procedures.measure import LISTED
from nonna.stations.lathe.procedures.measure.evaluate import evaluate
from nonna.stations.lathe.procedures.measure.model import TOUCHES, PartReadings
from nonna.wording.lengths import Units

_ONE_PROCESS = ("tool", "feature", "side", "axis", "nominal_mm", "x_shows")  #: what parts of one process have alike


def _with_earlier(facts: SheetFacts, parts: list[Plain]) -> SheetFacts:
    setup = {name: value for name, value in facts.setup.items() if name != "earlier"}
    return replace(facts, setup=Given({**setup, "earlier": parts} if parts else setup))


def settled(facts: SheetFacts) -> SheetFacts:
    """Fill in the parts of the same process: the same tool, feature and size, back to one that was a stop."""
    setup = facts.setup
    if not facts.past:
        return facts  # the book has none: what a file brought stays
    if not setup.word("tool"):
        return _with_earlier(facts, [])
    one = [setup.get(name) for name in _ONE_PROCESS]
    parts: list[Plain] = []
    for each in facts.past:
        if [each.get(name) for name in _ONE_PROCESS] != one:
            continue
        if each.word("state") == "stop":
            break
        parts.append({"error_mm": each["error_mm"], "u_mm": each["u_mm"], "wear_mm": each.number("wear_mm", 0.0)})
    return _with_earlier(facts, parts[::-1])


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both sides, twice each."""
    feature = facts.setup.word("feature", "diameter")
    words = "face" if feature == "distance" else "side"
    axis = facts.setup.word("axis") or ("x" if feature == "diameter" else "z")
    named = as_shown(axis, facts.setup.word("x_shows"))
    return tuple(
        Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Touch the {at} {words}: {named}", at, on=axis)
        for at in ("+", "-")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Blow the part clean; probe in the turret"),
        Step("Touch the + side", "+"),
        Step("The - side", "-"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The feature with its tolerance band and where it came out."""
    setup = facts.setup
    found = None
    if result is not None:
        error = result.quantity("error_mm")
        found = (error.value, error.estimate.expanded if error.estimate else 0.0)
    lower, upper = setup.number("lower_mm"), setup.number("upper_mm")
    limits = (lower, upper) if lower is not None and upper is not None else None
    return part_figure(setup.word("feature", "diameter"), {str(r["at"]) for r in readings}, found, limits, units)


SENTENCES = {
    "found-none": "{size:length}, ± {U:small}: {error:signed} from nominal.",
    "found-pass": "{size:length}, ± {U:small}: {error:signed} from nominal, within its tolerance.",
    "found-fail": "{size:length}, ± {U:small}: {error:signed} from nominal, OUT of its tolerance.",
    "found-undecided": "{size:length}, ± {U:small}: {error:signed} from nominal; the doubt reaches over a limit.",
    "leave": "The error is within its own doubt: the wear stays as it is.",
    "correct": "Wear {old:signed} becomes {new:signed} for the next part.",
    "early": "Part {parts} of this process: its wear is followed from part {least} on, when its scatter is known. It "
    "stays as it is.",
    "process-leave": "{parts} parts together say no more than their own scatter: the wear stays as it is.",
    "process-correct": "{parts} parts together: wear {old:signed} becomes {new:signed} for the next one.",
    "stop": "Too far off for wear: broken insert, wrong part or wrong program? No correction is made; look first.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Set the part aside and find out why before the next one.",
    "undecided": "Touch again, each side once more, or measure it by micrometer.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "part-across"},
    steps=steps,
    figure=figure,
    settled=settled,
    model=PartReadings,
    main=("size_mm",),
    main_title="Size",
    remembers=("nominal_mm", "lower_mm", "upper_mm", "step_limit_mm", "stop_mm", "gain"),
    offered={
        "feature": "diameter",
        "side": "external",
        "x_shows": "diameter",
        "resolution_mm": 0.001,
    },
    variants=(
        Variant("external", "Outside diameter", {"feature": "diameter", "side": "external"}),
        Variant("internal", "Inside diameter", {"feature": "diameter", "side": "internal"}),
        Variant("distance", "Distance of two faces", {"feature": "distance"}),
        Variant("groove", "Groove", {"feature": "groove"}),
        Variant("rib", "Rib", {"feature": "rib"}),
    ),
    needs=(
        *REPEATABILITY,
        *with_doubt(
            "ball_diameter",
            offers.BALL_DIAMETER,
            "ring",
            ("external", "internal", "groove", "rib"),
            needed=False,
        ),
    ),
    reads={},
    caution=Caution(
        "Spindle stopped before the probe comes near",
        "Probe awake, doors shut, rapid turned down. Will the stem clear the shoulder? Look first.",
    ),
)
