"""Tool from the presetter: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.presetter import tool_figure
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, as_before
from nonna.procedures.presetter_tool.procedure import axis_calibration, slots, steps
from nonna.procedures.sheet import PLANE, REPEATABILITY, Need, NeedPart, Procedure, with_doubt
from nonna.procedures.tool_from_presetter import LISTED
from nonna.procedures.tool_from_presetter.evaluate import evaluate
from nonna.procedures.tool_from_presetter.model import FromPresetterReadings
from nonna.wording.lengths import Units


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What the display will show of what the table holds."""
    known = as_before(FromPresetterReadings, slot, readings, field)
    axis, setup = str(slot.fields["axis"]), facts.setup
    table = setup.number("expected_mm") if axis == "z" else facts.tool_diameter
    if known is not None or table is None:
        return known
    half = axis == "x" and setup.word("x_shows") == "radius"
    away = setup.number("transfer_mm", 0.0) if axis == "z" else 0.0
    return (table - away) / (2.0 if half else 1.0) - setup.number(f"{axis}_offset_mm", 0.0)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool in the presetter's spindle, with the two lines it is measured by."""
    del readings
    found = {q.name: q for q in result.quantities} if result else {}
    long = found["length_mm"].value if "length_mm" in found else facts.setup.number("expected_mm")
    wide = found["diameter_mm"].value if "diameter_mm" in found else facts.tool_diameter
    return tool_figure(facts.tool_kind, float(wide or 10.0), float(long or 100.0), "length_mm" in found, units)


def _away(name: str, part: NeedPart, needed: bool = True) -> Need:
    return Need(name, offers.TRANSFER, part, "tools", needed=needed, away=True, of_station=True)


SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right for this machine.",
    "diameter": "Diameter {value:length}, ± {U:small}.",
    "agrees": "The machine's own setter said {own:length}: {d:signed} from that, within the doubt of both (± "
    "{U:small}).",
    "differs": "The machine's own setter said {own:length}: {d:signed} from that, more than the doubt of both (± "
    "{U:small}).",
    "recalibrated": "The setter was calibrated again since the transfer: its plane counts twice until the transfer "
    "is done anew.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Is it the right tool, well seated and clean? Touch it once on the machine's own setter.",
    "undecided": "Measure it on the machine's own setter if it has to be within the limit.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=FromPresetterReadings,
    main=("length_mm",),
    main_title="Length",
    beside=("from_own_mm",),
    reads={},
    needs=(
        *axis_calibration("z", away=True),
        *axis_calibration("x", away=True),
        _away("transfer_mm", "value"),
        _away("transfer_u_mm", "one-more"),
        _away("transfer_dof", "dof"),
        _away("transfer_pivot_mm", "pivot", False),
        _away("transfer_slope_ppm", "slope", False),
        _away("transfer_means_of", "means-of", False),
        *PLANE,
        *(replace(carry, away=True, link="tools") for carry in REPEATABILITY),
        *with_doubt("own_length", offers.TOOL_LENGTH, "tools", same_subject=True, needed=False),
    ),
    caution=Caution(
        "Sharp edges", "Carry tools by the holder. Wipe taper and sleeve: a chip is a tenth of a millimetre."
    ),
    offered={"x_shows": "diameter", "resolution_mm": 0.001},
)
