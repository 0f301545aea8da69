"""Reference tool on a master in the chuck: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import chuck_master_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import Procedure
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.offset_master import LISTED
from nonna.stations.lathe.procedures.offset_master.evaluate import evaluate
from nonna.stations.lathe.procedures.offset_master.model import TURNS, ChuckMasterReadings
from nonna.wording.lengths import Units


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both axes, each at two angles of the chuck, twice."""
    shows = facts.setup.word("x_shows", "diameter")
    return tuple(
        Slot(
            {"axis": axis, "chuck_deg": turn}, f"{axis.upper()} {turn}° {i + 1}/2",
            f"Master's {words}, chuck at {turn}°: {as_shown(axis, shows)}", axis,
        )
        for axis, words in (("x", "diameter"), ("z", "face"))
        for turn in TURNS
        for i in range(2)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the master lightly, wipe it and the tip"),
        Step("Touch its diameter, twice; half a turn of the chuck by hand, twice again", "x"),
        Step("Its face likewise; where that lies was indicated before (F9)", "z"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The master in the chuck, the tip at its side."""
    size = facts.master("master").number("diameter_mm") or 20.0
    found = {q.title: q.value for q in result.quantities} if result else {}
    return chuck_master_figure(size, {str(r["axis"]) for r in readings}, found, units)


SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "runs": "The master stands {value:small} off the axis; touched on both sides of a half turn it cancels.",
    "one-side": "Touched at one angle of the chuck alone: how far the master stands off the axis is in the offset "
    "and in its doubt. Turn the chuck by half a turn and touch again.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-on-master"},
    steps=steps,
    figure=figure,
    model=ChuckMasterReadings,
    main=("offset_x_mm", "offset_z_mm"),
    main_title="X offset",
    any_main=True,
    role="master",
    master_kinds=("master-tool", "ring"),
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
    caution=Caution(
        "Spindle stopped, drive off, before hands turn the chuck",
        "The master clamped lightly and wiped. Come near with the smallest step, foil between, doors shut whenever "
        "an axis "
        "moves by more than that.",
    ),
)
