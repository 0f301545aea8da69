"""Beam level: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.figures.figure import Figure
from nonna.figures.level import beam_figure
from nonna.procedures.beam_level import LISTED
from nonna.procedures.beam_level.evaluate import evaluate
from nonna.procedures.beam_level.model import BeamReadings, Z
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, PassDone, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Procedure
from nonna.procedures.tip_runout.procedure import outlook_words
from nonna.shop.reason import Reason
from nonna.wording.lengths import Units

TIMES = 3


def outlook(passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
    """How many more passes, from how fast the fall in Z shrank so far."""
    check = next((c for c in result.checks if c.of == Z), None)
    if check is None or not passes:
        return None
    sizes = [*(p.results["z_per_100_mm"] for p in passes), check.value]
    return outlook_words(sizes, check.limit)


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three times at each end, height and cross position."""
    del facts
    return tuple(
        Slot({"end": end}, f"{end} {i + 1}/{TIMES}", f"End {end}, height Z", end, (f"End {end}, across",))
        for end in ("A", "B")
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    span = facts.setup.number("span_mm", 0.0)
    return (
        Step("Wipe the windows and the pin; spindle stopped"),
        Step("Find the pin at end A three times", "A"),
        Step(f"Move along the beam by {span:g} mm, find it at end B", "B"),
        Step("Turn the adjuster and measure again"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The beam from the side and from above, exaggerated."""
    found = None
    if result is not None:
        found = (result.quantity("z_deviation_mm").value, result.quantity("cross_deviation_mm").value)
    taken = {end: sum(1 for r in readings if r["end"] == end) for end in ("A", "B")}
    return beam_figure(facts.setup.number("span_mm", 100.0), taken, found, units)


SENTENCES = {
    "raise": "Adjuster: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Adjuster: lower it by {about} ({turns:2f} turns, {by:small}).",
    "span": "{what}: a span of {span:length} would decide it.",
    "found-none": (_FOUND := "Over 100 mm the beam goes {z:signed} in Z and {cross:signed} across") + ".",
    "found-pass": _FOUND + ": level.",
    "found-fail": _FOUND + ": not level yet.",
    "found-undecided": _FOUND + "; the doubt leaves it open.",
    "fail": "Turn the setter on the table until it runs along, and measure again.",
    "undecided": "Measure over a longer span.",
    "pass": "Sign it, then calibrate the beam.",
    "none": "Sign it, then calibrate the beam.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "beam-ends"},
    steps=steps,
    figure=figure,
    outlook=outlook,
    model=BeamReadings,
    main=("z_per_100_mm",),
    main_title="Z over 100 mm",
    reads={"z_mm": "z"},
    offered={"limit_z_mm_per_100": 0.010, "limit_cross_mm_per_100": 1.0, "span_mm": 100.0},
    caution=Caution(
        "Never look into the beam",
        "Not even for a moment, not at its reflection on the pin. Doors shut while anything moves; spindle stopped.",
    ),
)
