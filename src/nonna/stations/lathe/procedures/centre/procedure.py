"""Centre line of the turret: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import centre_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.stations.lathe.procedures.centre import LISTED
from nonna.stations.lathe.procedures.centre.evaluate import evaluate
from nonna.stations.lathe.procedures.centre.model import SIDES, CentreReadings
from nonna.wording.lengths import Units

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two turns of the chuck, four sides each."""
    del facts
    return tuple(
        Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Dial on the {at.upper()} side of the bar", at)
        for i in range(TOUCHES)
        for at in SIDES
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step(
            "A ground bar in the station, the indicator in the chuck; bring the bar about on the axis, note machine "
            "X (F9)"
        ),
        *(Step(f"Turn the chuck: the {at.upper()} side", at) for at in SIDES),
        Step("Once round again, then sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The bar seen along the axis, where it stands and where it should."""
    del facts
    found = {q.name: q.value for q in result.quantities} if result else {}
    rows = {at: [as_number(r["value_mm"]) for r in readings if r["at"] == at] for at in SIDES}
    x = (
        (sum(rows["+x"]) / len(rows["+x"]) - sum(rows["-x"]) / len(rows["-x"])) / 2
        if rows["+x"] and rows["-x"]
        else None
    )
    return centre_figure({at for at in SIDES if rows[at]}, x, found.get("height_mm"), units)


SENTENCES = {
    "found": "A tool on the centre line of this turret has {axis} offset {value:length}, ± {U:small}.",
    "height": "The bar stands {d:signed} off the spindle's height.",
    "sign": "Sign it: drills take their X from it.",
    "pass": "Sign it: drills take their X from it.",
    "fail": "Too far off in height for a drill: is the bar seated, was the turret hit? Shim it or have it aligned.",
    "undecided": "Sweep it once more.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-round-turret"},
    steps=steps,
    figure=figure,
    model=CentreReadings,
    main=("centre_line_x_mm",),
    main_title="Centre line in X",
    reads={"value_mm": "dial"},
    foreseeable=False,
    offered={
        "x_shows": "diameter",
        "limit_height_mm": 0.05,
        "indicator": {"resolution_mm": 0.001},
    },
    caution=Caution(
        "The chuck is turned by hand, drive off",
        "Indicator in the chuck, a ground bar in the station. Drive off, doors open only while nothing moves; move X "
        "with "
        "the smallest step near the bar.",
    ),
)
