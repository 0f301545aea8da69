"""Reference tool by test cut: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import test_cut_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.stations.lathe.procedures.offset_cut import LISTED
from nonna.stations.lathe.procedures.offset_cut.evaluate import evaluate
from nonna.stations.lathe.procedures.offset_cut.model import CutReadings
from nonna.wording.lengths import Units

TOUCHES = 3  #: with two, what a display of 1 µm hides would be taken for a scatter of one degree of freedom


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """The diameter and the face, each three times."""
    del facts
    return tuple(
        Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", prompt, axis)
        for axis, prompt in (("x", "Turned diameter, measured"), ("z", "Where the face lies"))
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Doors shut, full chuck pressure: turn a short step, note machine X (F9), leave X where it is"),
        Step("Spindle stopped: measure the diameter three times, turned a third each time", "x"),
        Step("Face lightly, note machine Z (F9); measure where the face lies, three times", "z"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The cut in the chuck."""
    del facts
    sizes = [as_number(r["value_mm"]) for r in readings if r["axis"] == "x"]
    found = {q.title: q.value for q in result.quantities} if result else {}
    return test_cut_figure(sum(sizes) / len(sizes) if sizes else None, found, units)


SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "step-turned"},
    steps=steps,
    figure=figure,
    model=CutReadings,
    main=("offset_x_mm", "offset_z_mm"),
    main_title="X offset",
    any_main=True,
    by_dial=False,
    reads={},
    offered={"x_shows": "diameter"},
    caution=Caution(
        "Spindle stopped before the micrometer comes near",
        "Doors shut and chuck at full pressure for the cut. Back the turret off, stop the spindle and see it stand "
        "still, "
        "only then open the door and measure.",
    ),
)
