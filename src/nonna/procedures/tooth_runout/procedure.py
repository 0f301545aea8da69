"""Tooth run-out: what the hands do, its drawing, and everything together."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.procedures.tooth_runout import LISTED
from nonna.procedures.tooth_runout.evaluate import evaluate
from nonna.procedures.tooth_runout.model import TIMES, USUAL_TEETH, ToothReadings
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units, small

RADIUS, BAR = 36.0, 22.0


def teeth_figure(teeth: int, taken: Collection[int], back: Mapping[int, float], units: Units) -> Figure:
    """Draw the teeth.

    Parameters: teeth, how many; taken, those touched; back, how far each stands behind the longest (mm).
    """
    largest = max([*back.values(), 1e-4])
    strokes: list[Stroke] = [
        Circle((0, 0), RADIUS, "steel", "muted"), Circle((0, 0), 3, "ink", None, dot=True),
    ]  # fmt: skip
    for tooth in range(1, teeth + 1):
        t = math.radians(90.0 - 360.0 * (tooth - 1) / teeth)
        way = (math.cos(t), math.sin(t))
        ink: Ink = "accent" if tooth in taken else "muted"
        out = RADIUS + BAR * (1.0 - back[tooth] / largest) if tooth in back else RADIUS + 4.0
        longest = tooth in back and back[tooth] == 0.0
        strokes.append(
            Line((way[0] * RADIUS, way[1] * RADIUS), (way[0] * out, way[1] * out), "bad" if longest else ink, 6.0)
        )
        strokes.append(Label((way[0] * (RADIUS - 9), way[1] * (RADIUS - 9)), str(tooth), "ink", 15, True, dy=5))
        if tooth in back:
            words = "longest" if longest else small(-back[tooth], units)
            strokes.append(
                Label(
                    (way[0] * (RADIUS + BAR + 9), way[1] * (RADIUS + BAR + 7)),
                    words,
                    "bad" if longest else "accent",
                    14,
                    dy=5,
                )
            )
    note = (
        f"from below; bars not to scale: the shortest stands {small(largest, units)} back"
        if back
        else "from below, schematic"
    )
    return Figure("How far each tooth stands out", (-86, -76, 86, 76), tuple(strokes), note)


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two touches a tooth."""
    teeth = facts.tool_flutes or USUAL_TEETH
    return tuple(
        Slot({"tooth": tooth}, f"Tooth {tooth} {i + 1}/{TIMES}", f"Touch tooth {tooth}", "teeth")
        for tooth in range(1, teeth + 1)
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the inserts and the pad; mark tooth 1"),
        Step("Orient so that a tooth stands over the pad, touch, go on to the next", "teeth"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The teeth round the cutter, how far each stands back."""
    back = {} if result is None else {int(t): as_number(d) for t, d in Given(result.extras).part("back_mm").items()}
    return teeth_figure(facts.tool_flutes or USUAL_TEETH, {int(as_number(r["tooth"])) for r in readings}, back, units)


SENTENCES = {
    "found-none": (
        _FOUND := "Tooth {longest} stands out most, {r:small} beyond tooth {shortest}; each height ± {U:small}."
    ),
    "found-pass": _FOUND + " Within {limit:small}.",
    "found-fail": _FOUND + " Over {limit:small}.",
    "found-undecided": _FOUND + " The doubt leaves {limit:small} open.",
    "back": "Tooth {tooth} stands {d:small} back.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Take the insert of tooth {tooth} out, wipe its seat and the insert, put it back and touch again.",
    "undecided": "Touch each tooth once more.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    model=ToothReadings,
    main=("runout_mm",),
    main_title="Tooth run-out",
    needs=REPEATABILITY,
    offered={"limit_mm": 0.02, "resolution_mm": 0.0001},
    caution=Caution(
        "Inserts cut",
        "Spindle oriented and locked, never turning. Turn the cutter with a cloth or a glove, doors shut while it "
        "moves.",
    ),
)
