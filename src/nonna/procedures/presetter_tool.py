"""A tool measured on a calibrated presetter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.presetter import tool_figure
from nonna.metrology.decision import worst
from nonna.metrology.means import enter_means
from nonna.metrology.uncertain import Influences, Uncertain, value_of
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, require
from nonna.procedures.presetter_calibration import PPM
from nonna.procedures.sheet import REPEATABILITY, Bench, Carry, CarryPart, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, shown_scatter, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

Axis = Literal["z", "x"]
TOUCHES = 2
_NAMES = {"z": ("length", "Length"), "x": ("diameter", "Diameter")}

said = saying("presetter-tool")
SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right by the calibration.",
    "diameter": "Diameter {value:length}, ± {U:small}, put right by the calibration.",
    "pass": "Sign it; the machine that takes the tool adds its own transfer.",
    "none": "Sign it; the machine that takes the tool adds its own transfer.",
    "fail": "Is it the right tool, well seated and clean? If so, sign it and tell the next shift.",
    "undecided": "Measure it again, or sign it as it is.",
}


def _scale_u(axis: str) -> Any:
    return asked(f"Doubt of the {axis} scale", "1", "Standard uncertainty in ppm.", None)


class PresetterToolSetup(Setup):
    """Setup of a tool on a presetter: what its calibration found."""

    x_shows: XShows = x_shows()
    z_offset_mm: Number | None = asked("Zero of the length", help="From the calibration.", default=None)
    z_offset_u_mm: NotNegative | None = asked("Its standard uncertainty", default=None)
    z_offset_dof: Dof | None = carried_dof()
    z_pivot_mm: Number | None = asked("Where it holds", help="Pivot of the length.", default=None)
    z_scale_ppm: Number | None = asked("Scale of the length", "1", "In ppm.", None)
    z_scale_u_ppm: NotNegative | None = _scale_u("Z")
    z_scale_dof: Dof | None = carried_dof()
    x_offset_mm: Number | None = asked("Zero of the diameter", help="From the calibration, as shown.", default=None)
    x_offset_u_mm: NotNegative | None = asked("Its standard uncertainty", default=None)
    x_offset_dof: Dof | None = carried_dof()
    x_pivot_mm: Number | None = asked("Where it holds", help="Pivot of the diameter, as shown.", default=None)
    x_scale_ppm: Number | None = asked("Scale of the diameter", "1", "In ppm.", None)
    x_scale_u_ppm: NotNegative | None = _scale_u("X")
    x_scale_dof: Dof | None = carried_dof()
    expected_length_mm: Number | None = asked("Length in the table", default=None)
    expected_diameter_mm: Number | None = asked("Diameter in the table", default=None)
    limit_length_mm: NotNegative | None = asked("Largest change of the length", default=None, limit=True)
    limit_diameter_mm: NotNegative | None = asked("Largest change of the diameter", default=None, limit=True)


class AxisReading(Strict):
    """What the display shows on one axis."""

    axis: Axis
    value_mm: Number


class PresetterToolReadings(ReadingsFile):
    """Readings file of a tool on a presetter."""

    procedure: Literal["presetter-tool"]
    setup: PresetterToolSetup
    readings: list[AxisReading]
    value_fields = ("value_mm",)


def axis_calibration(axis: str, *, away: bool = False) -> tuple[Carry, ...]:
    """Carry an axis' calibration; away: from the records of the shop's presetter, for another station's sheet."""
    parts: tuple[tuple[str, str, CarryPart], ...] = (
        ("offset_mm", "offset_mm", "value"), ("offset_u_mm", "offset_mm", "u"), ("offset_dof", "offset_mm", "dof"),
        ("pivot_mm", "pivot_mm", "value"),
        ("scale_ppm", "scale_ppm", "value"), ("scale_u_ppm", "scale_ppm", "u"), ("scale_dof", "scale_ppm", "dof"),
    )  # fmt: skip
    return tuple(
        Carry(
            f"{axis}_{field}",
            "presetter-calibration",
            f"{axis}_{result}",
            part,
            "calibration",
            needed=axis == "z",
            away=away,
        )
        for field, result, part in parts
    )


STEPS = (
    Step("Wipe taper and holder; seat the tool"),
    Step("Turn it to the longest edge; read the length", "z"),
    Step("Turn it to the widest edge; read the diameter", "x"),
    Step("Sign"),
)


def presetter_slots(bench: Bench) -> tuple[Slot, ...]:
    """Return the readings of a tool: its length twice, the diameter too where its axis is calibrated."""
    axes = ("z", "x") if bench.setup.number("x_offset_mm") is not None else ("z",)
    return tuple(
        Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", f"{_NAMES[axis][1]} shown", axis)
        for axis in axes
        for i in range(TOUCHES)
    )


class PresetterTool(Procedure):
    """``length = r + offset + scale (r - pivot)``; the diameter likewise, twice it where X shows the radius."""

    name = "presetter-tool"
    sentences = SENTENCES
    model = PresetterToolReadings
    main = ("length_mm",)
    main_title = "Length"
    reads: ClassVar[dict[str, str]] = {}
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "resolution_mm": 0.001}
    carries = (*REPEATABILITY, *axis_calibration("z"), *axis_calibration("x"))
    caution = Caution("Sharp edges", "Turn the tool by its holder. Never look into the lamp.")

    def _evaluate(self, file: PresetterToolReadings) -> Evaluation:
        setup, rule = file.setup, file.rule.rule()
        if not file.readings:
            raise TooFewReadingsError("Nothing was measured yet.")
        influences = Influences()
        quantities: list[Quantity] = []
        checks: list[Check] = []
        above = False
        for axis in ("z", "x"):
            name, title = _NAMES[axis]
            values = [r.value_mm for r in file.readings if r.axis == axis]
            limit: float | None = getattr(setup, f"limit_{name}_mm")
            expected: float | None = getattr(setup, f"expected_{name}_mm")
            if limit is not None:
                require(expected, f"setup.expected_{name}_mm")
            if not values:
                continue
            touch = shown_scatter({"all": values}, axis, setup.x_shows, setup)
            above = above or touch.above_history
            mean = enter_means({"all": values}, touch, influences)["all"]
            estimate = influences.estimate(put_right(setup, axis, mean, influences))
            quantities.append(Quantity.of(f"{name}_mm", title, estimate))
            if limit is not None and expected is not None:
                checks.append(
                    check_limit(f"{title}: change", estimate.value - expected, limit, rule, estimate, of=f"{name}_mm")
                )
        told = [
            said(q.name.removesuffix("_mm"), value=q.value, U=q.estimate.expanded if q.estimate else 0.0)
            for q in quantities
        ]
        return Evaluation(
            file.procedure, tuple(quantities), rule, told[0], said(str(worst(c.verdict for c in checks))),
            tuple(checks), ("scatter-above-history",) if above else (), tuple(told[1:]),
        )  # fmt: skip

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Length twice; the diameter too where its axis is calibrated."""
        return presetter_slots(bench)

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return STEPS

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """What the table holds, as the display will show it."""
        known = super().expected(bench, slot, readings, field)
        axis = str(slot.fields["axis"])
        table = bench.setup.number(f"expected_{_NAMES[axis][0]}_mm")
        if known is not None or table is None:
            return known
        half = axis == "x" and bench.setup.word("x_shows") == "radius"
        return table / (2.0 if half else 1.0) - (bench.setup.number(f"{axis}_offset_mm") or 0.0)

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tool in the presetter's spindle, with the two lines it is measured by."""
        del readings
        found = {q.name: q for q in result.quantities} if result else {}
        long = found["length_mm"].value if "length_mm" in found else bench.setup.number("expected_length_mm")
        wide = found["diameter_mm"].value if "diameter_mm" in found else bench.tool_diameter
        return tool_figure(bench.tool_kind, float(wide or 10.0), float(long or 100.0), "length_mm" in found, units)


def put_right(setup: PresetterToolSetup, axis: Axis, mean: Uncertain, influences: Influences | None = None) -> Any:
    """Return the length, or the diameter, that a mean reading stands for; without influences as a plain number.

    Raises: MissingFieldError (the calibration of that axis).
    """

    def given(end: str) -> float:
        value: float | None = getattr(setup, f"{axis}_{end}")
        return require(value, f"setup.{axis}_{end}")

    def dof(end: str) -> float:
        freedom: float | None = getattr(setup, f"{axis}_{end}_dof")
        return float("inf") if freedom is None else freedom

    def entered(name: str, value: float, u: float, end: str, field: str) -> Uncertain:
        return value if influences is None else influences.add(name, value, u, dof(end), field=field)

    offset = entered("zero", given("offset_mm"), given("offset_u_mm"), "offset", f"setup.{axis}_offset_mm")
    scale = entered("scale", given("scale_ppm") / PPM, given("scale_u_ppm") / PPM, "scale", f"setup.{axis}_scale_ppm")
    size = mean + offset + scale * (float(value_of(mean)) - given("pivot_mm"))
    return size * 2 if axis == "x" and setup.x_shows == "radius" else size
