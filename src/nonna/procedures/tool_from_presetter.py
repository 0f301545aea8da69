"""A tool measured on the shop's presetter for the machine that is going to use it: put right by calibration and transfer."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.presetter import tool_figure
from nonna.metrology.decision import Verdict
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, require
from nonna.procedures.presetter_calibration import PPM
from nonna.procedures.presetter_tool import (
    STEPS,
    AxisReading,
    PresetterToolSetup,
    axis_calibration,
    presetter_slots,
    put_right,
)
from nonna.procedures.sheet import (
    PLANE,
    REPEATABILITY,
    Bench,
    Carry,
    CarryPart,
    Caution,
    Procedure,
    Slot,
    Step,
    carried,
)
from nonna.procedures.shown import shown_scatter
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number
from nonna.wording.lengths import Units

LEAST_APART = 2  #: readings that can lie apart

said = saying("tool-from-presetter")
SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right for this machine.",
    "diameter": "Diameter {value:length}, ± {U:small}.",
    "agrees": "The machine's own setter said {own:length}: {d:signed} from that, within the doubt of both (± {U:small}).",
    "differs": "The machine's own setter said {own:length}: {d:signed} from that, more than the doubt of both (± {U:small}).",
    "recalibrated": "The setter was calibrated again since the transfer: its plane counts twice until the transfer is done anew.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Is it the right tool, well seated and clean? Touch it once on the machine's own setter.",
    "undecided": "Measure it on the machine's own setter if it has to be within the limit.",
}


class FromPresetterSetup(PresetterToolSetup):
    """Setup: the presetter's calibration, its transfer to this machine, this machine's plane and what its setter said."""

    transfer_mm: Number | None = asked(
        "Machine less presetter", help="From the transfer to this machine.", default=None
    )
    transfer_u_mm: NotNegative | None = asked(
        "Doubt of one more tool", help="Standard uncertainty of one more tool put right by it.", default=None
    )
    transfer_dof: Dof | None = carried_dof()
    transfer_pivot_mm: Number | None = asked("At the length", help="Where a line of transfer holds.", default=None)
    transfer_slope_ppm: Number | None = asked("Trend with the length", "1", "In ppm, for a line.", None)
    trigger_plane_mm: Number | None = asked("Trigger plane", help="Of the machine's setter.", default=None)
    trigger_plane_u_mm: NotNegative = asked("Its standard uncertainty", default=0.0)
    trigger_plane_dof: Dof | None = carried_dof()
    setter_recalibrated: bool = asked("Setter calibrated since", "", "Since the transfer was measured.", False)
    transfer_means_of: Annotated[int, Field(ge=1, le=1000)] | None = asked(
        "Readings a tool of the transfer", "", "Of how many readings each length in it was the mean.", None
    )
    own_length_mm: Number | None = asked("The machine's own length", help="As its setter said last.", default=None)
    own_length_u_mm: NotNegative = asked("Its standard uncertainty", default=0.0)
    own_length_dof: Dof | None = carried_dof()
    expected_mm: Number | None = asked("Length in the table", default=None)
    limit_mm: NotNegative | None = asked("Largest change of the length", default=None, limit=True)


class FromPresetterReadings(ReadingsFile):
    """Readings file of a tool from the presetter."""

    procedure: Literal["tool-from-presetter"]
    setup: FromPresetterSetup
    readings: list[AxisReading]
    value_fields = ("value_mm",)


def _apart(values: Sequence[float], setup: FromPresetterSetup) -> bool:
    """Whether readings of one length lie further apart than the presetter's repeatability, or than a whole transfer says.

    The transfer's doubt of one more tool holds the scatter of a mean of its readings, and more.
    """
    if len(values) < LEAST_APART:
        return False
    if setup.repeatability_mm:
        return shown_scatter({"all": values}, "z", setup.x_shows, setup).above_history
    u = require(setup.transfer_u_mm, "setup.transfer_u_mm")
    if u == 0.0:
        return False
    known = u * math.sqrt(len(values))
    return touch_scatter([values], history=known, history_dof=_freedom(setup.transfer_dof)).above_history


def _away(name: str, part: CarryPart, needed: bool = True) -> Carry:
    return Carry(name, "presetter-transfer", "transfer_mm", part, "tools", needed=needed, away=True, of_station=True)


class ToolFromPresetter(Procedure):
    """``length = presetter's length + transfer``: in the doubt stand one more tool of the transfer and the machine's plane.

    The presetter's own calibration and scatter are in the scatter of the transfer, which was measured with them: they
    are not counted again. A line of transfer is taken at its worst, at the end of its range.
    """

    name = "tool-from-presetter"
    sentences = SENTENCES
    model = FromPresetterReadings
    main = ("length_mm",)
    main_title = "Length"
    beside = ("from_own_mm",)
    reads: ClassVar[dict[str, str]] = {}
    carries = (
        *axis_calibration("z", away=True), *axis_calibration("x", away=True), _away("transfer_mm", "value"),
        _away("transfer_u_mm", "one-more"), _away("transfer_dof", "dof"), _away("transfer_pivot_mm", "pivot", False),
        _away("transfer_slope_ppm", "slope", False), _away("transfer_means_of", "means-of", False), *PLANE,
        *(replace(carry, away=True, link="tools") for carry in REPEATABILITY),
        *carried("own_length", "tool-length", "length_mm", "tools", same_subject=True, needed=False),
    )  # fmt: skip
    caution = Caution(
        "Sharp edges", "Carry tools by the holder. Wipe taper and sleeve: a chip is a tenth of a millimetre."
    )
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "resolution_mm": 0.001}

    def _evaluate(self, file: FromPresetterReadings) -> Evaluation:
        setup, rule = file.setup, file.rule.rule()
        shown = {axis: [r.value_mm for r in file.readings if r.axis == axis] for axis in ("z", "x")}
        if not shown["z"]:
            raise TooFewReadingsError("The length was not read yet.")
        influences = Influences()
        right = put_right(setup, "z", math.fsum(shown["z"]) / len(shown["z"]))
        lean = (
            (right - setup.transfer_pivot_mm) * (setup.transfer_slope_ppm or 0.0) / PPM
            if setup.transfer_pivot_mm is not None
            else 0.0
        )
        one_more = influences.add(
            "one more tool of the transfer", require(setup.transfer_mm, "setup.transfer_mm") + lean,
            require(setup.transfer_u_mm, "setup.transfer_u_mm"), _freedom(setup.transfer_dof), field="setup.transfer_mm",
        )  # fmt: skip
        one_more = one_more + _fewer(setup, len(shown["z"]), influences)
        plane_u, plane_dof = setup.trigger_plane_u_mm, _freedom(setup.trigger_plane_dof)
        plane = influences.add("trigger plane", 0.0, plane_u, plane_dof, field="setup.trigger_plane_mm")
        since = influences.add(
            "trigger plane at the transfer", 0.0, plane_u if setup.setter_recalibrated else 0.0, plane_dof
        )
        relative = one_more + since + right
        length = influences.estimate(relative - plane)
        quantities = [Quantity.of("length_mm", "Length", length)]
        told = [said("length", value=length.value, U=length.expanded)]
        if shown["x"]:
            mean = enter_means(
                {"all": shown["x"]}, shown_scatter({"all": shown["x"]}, "x", setup.x_shows, setup), influences
            )["all"]
            wide = influences.estimate(put_right(setup, "x", mean, influences))
            quantities.append(Quantity.of("diameter_mm", "Diameter", wide))
            told.append(said("diameter", value=wide.value, U=wide.expanded))
        told += _beside_own(setup, relative, influences, quantities)
        if setup.setter_recalibrated:
            told.append(said("recalibrated"))
        checks: tuple[Check, ...] = ()
        if setup.limit_mm is not None:
            change = length.value - require(setup.expected_mm, "setup.expected_mm")
            checks = (check_limit("Length: change", change, setup.limit_mm, rule, length, of="length_mm"),)
        verdict = checks[0].verdict if checks else Verdict.NONE
        flags = ("scatter-above-history",) if _apart(shown["z"], setup) else ()
        return Evaluation(
            file.procedure, tuple(quantities), rule, told[0], said(str(verdict)), checks, flags, tuple(told[1:])
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Length twice; the diameter too where its axis is calibrated."""
        return presetter_slots(bench)

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return STEPS

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """What the display will show of what the table holds."""
        known = super().expected(bench, slot, readings, field)
        axis, setup = str(slot.fields["axis"]), bench.setup
        table = setup.number("expected_mm") if axis == "z" else bench.tool_diameter
        if known is not None or table is None:
            return known
        half = axis == "x" and setup.word("x_shows") == "radius"
        away = setup.number("transfer_mm", 0.0) if axis == "z" else 0.0
        return (table - away) / (2.0 if half else 1.0) - setup.number(f"{axis}_offset_mm", 0.0)

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tool in the presetter's spindle, with the two lines it is measured by."""
        del readings
        found = {q.name: q for q in result.quantities} if result else {}
        long = found["length_mm"].value if "length_mm" in found else bench.setup.number("expected_mm")
        wide = found["diameter_mm"].value if "diameter_mm" in found else bench.tool_diameter
        return tool_figure(bench.tool_kind, float(wide or 10.0), float(long or 100.0), "length_mm" in found, units)


def _freedom(dof: float | None) -> float:
    return math.inf if dof is None else dof


def _fewer(setup: FromPresetterSetup, count: int, influences: Influences) -> Uncertain:
    """Return nothing, with the scatter that a mean of fewer readings has beyond those the transfer was made of."""
    many = setup.transfer_means_of
    if many is None or count >= many:
        return 0.0
    if setup.repeatability_mm:
        one, dof = setup.repeatability_mm, _freedom(setup.repeatability_dof)
    else:  # not known: no larger than the whole transfer says
        one, dof = (setup.transfer_u_mm or 0.0) * math.sqrt(many), _freedom(setup.transfer_dof)
    more = one * math.sqrt(1.0 / count - 1.0 / many)
    return influences.add("fewer readings than the transfer's", 0.0, more, dof)


def _beside_own(
    setup: FromPresetterSetup, relative: Uncertain, influences: Influences, quantities: list[Quantity]
) -> list[Any]:
    """Compare with what the machine's own setter said.

    On one plane its doubt is common to both and left out; after a calibration anew the own length stands on the new
    plane and the transfer on the old one, so both count.
    """
    if setup.own_length_mm is None:
        return []
    common = 0.0 if setup.setter_recalibrated else setup.trigger_plane_u_mm
    left = math.sqrt(max(setup.own_length_u_mm**2 - common**2, 0.0))
    own = influences.add("the setter's own touches", setup.own_length_mm, left, _freedom(setup.own_length_dof))
    apart = influences.estimate(relative - own)
    quantities.append(Quantity.of("from_own_mm", "Less the setter's", apart))
    code = "agrees" if abs(apart.value) <= apart.expanded else "differs"
    return [said(code, own=setup.own_length_mm, d=apart.value, U=apart.expanded)]
