"""Tool on the presetter: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.presetter import tool_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.presetter_tool import LISTED
from nonna.procedures.presetter_tool.evaluate import evaluate
from nonna.procedures.presetter_tool.model import NAMES, PresetterToolReadings
from nonna.procedures.sheet import REPEATABILITY, Need, NeedPart, Procedure
from nonna.wording.lengths import Units

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Length twice; the diameter too where its axis is calibrated."""
    axes = ("z", "x") if facts.setup.number("x_offset_mm") is not None else ("z",)
    return tuple(
        Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", f"{NAMES[axis][1]} shown", axis)
        for axis in axes
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe taper and holder; seat the tool"),
        Step("Turn it to the longest edge; read the length", "z"),
        Step("Turn it to the widest edge; read the diameter", "x"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What the table holds, as the display will show it."""
    known = as_before(PresetterToolReadings, slot, readings, field)
    axis = str(slot.fields["axis"])
    table = facts.setup.number(f"expected_{NAMES[axis][0]}_mm")
    if known is not None or table is None:
        return known
    half = axis == "x" and facts.setup.word("x_shows") == "radius"
    return table / (2.0 if half else 1.0) - (facts.setup.number(f"{axis}_offset_mm") or 0.0)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool in the presetter's spindle, with the two lines it is measured by."""
    del readings
    found = {q.name: q for q in result.quantities} if result else {}
    long = found["length_mm"].value if "length_mm" in found else facts.setup.number("expected_length_mm")
    wide = found["diameter_mm"].value if "diameter_mm" in found else facts.tool_diameter
    return tool_figure(facts.tool_kind, float(wide or 10.0), float(long or 100.0), "length_mm" in found, units)


def axis_calibration(axis: str, *, away: bool = False) -> tuple[Need, ...]:
    """Carry an axis' calibration; away: from the records of the shop's presetter, for another station's sheet."""
    parts: tuple[tuple[str, str, NeedPart], ...] = (
        ("offset_mm", "offset_mm", "value"), ("offset_u_mm", "offset_mm", "u"), ("offset_dof", "offset_mm", "dof"),
        ("pivot_mm", "pivot_mm", "value"),
        ("scale_ppm", "scale_ppm", "value"), ("scale_u_ppm", "scale_ppm", "u"), ("scale_dof", "scale_ppm", "dof"),
    )  # fmt: skip
    return tuple(
        Need(
            f"{axis}_{field}",
            f"presetter.{axis}_{result}",
            part,
            "calibration",
            needed=axis == "z",
            away=away,
        )
        for field, result, part in parts
    )


SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right by the calibration.",
    "diameter": "Diameter {value:length}, ± {U:small}, put right by the calibration.",
    "pass": "Sign it; the machine that takes the tool adds its own transfer.",
    "none": "Sign it; the machine that takes the tool adds its own transfer.",
    "fail": "Is it the right tool, well seated and clean? If so, sign it and tell the next shift.",
    "undecided": "Measure it again, or sign it as it is.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-read"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=PresetterToolReadings,
    main=("length_mm",),
    main_title="Length",
    reads={},
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
    needs=(*REPEATABILITY, *axis_calibration("z"), *axis_calibration("x")),
    caution=Caution("Sharp edges", "Turn the tool by its holder. Never look into the lamp."),
)
