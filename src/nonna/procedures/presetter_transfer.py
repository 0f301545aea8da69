"""Presetter transfer: the same tools on the presetter and on a machine, and what one more is then good for."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import NonnaError
from nonna.figures.presetter import transfer_figure
from nonna.metrology.quantiles import student_t
from nonna.metrology.scatter import touch_from
from nonna.metrology.transfer import fit_transfer
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.presetter_calibration import PPM
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TOOLS = 5
TREND_P = 0.05

said = saying("presetter-transfer")
SENTENCES = {
    "found": "The machine finds tools {transfer:signed} against the presetter. One more, corrected: ± {U:small}.",
    "trend": "The difference grows with the length, {slope:1f} ppm: take the line instead of one offset.",
    "line": "By the line: {slope:1f} ppm of the length. It holds from the shortest to the longest of these tools.",
    "pass": "Sign it: lengths from the presetter are good enough for this machine.",
    "none": "Sign it.",
    "fail": "That is not good enough: calibrate presetter and setter, seat the tools again, or measure on the machine.",
}


class TransferSetup(Setup):
    """Setup of a transfer."""

    model: Literal["offset", "line"] = asked(
        "Correct by", "", "One offset for all tools, or a line over their length.", "offset"
    )
    limit_mm: NotNegative | None = asked(
        "Wanted for one more tool", help="Its expanded uncertainty, at most.", default=None, limit=True
    )
    presetter_means_of: Annotated[int, Field(ge=1, le=1000)] | None = asked(
        "Readings a tool on the presetter", "", "Of how many readings each presetter length is the mean.", None
    )


class BothReading(Strict):
    """One tool on both."""

    tool: int | str
    presetter_mm: Number
    machine_mm: Number


class TransferReadings(ReadingsFile):
    """Readings file of a transfer."""

    procedure: Literal["presetter-transfer"]
    setup: TransferSetup
    readings: list[BothReading]
    value_fields = ("presetter_mm", "machine_mm")


class PresetterTransfer(Procedure):
    """``transfer = mean (machine - presetter)``, or a line over the length."""

    name = "presetter-transfer"
    sentences = SENTENCES
    model = TransferReadings
    main = ("transfer_mm",)
    main_title = "Machine less presetter"
    foreseeable = False
    reads: ClassVar[dict[str, str]] = {}
    offered: ClassVar[dict[str, Any]] = {"model": "offset", "limit_mm": 0.02, "resolution_mm": 0.001}
    caution = Caution("Sharp edges", "Carry tools by the holder. On the machine its own cautions hold.")

    def _evaluate(self, file: TransferReadings) -> Evaluation:
        setup, line = file.setup, file.setup.model == "line"
        found = fit_transfer(
            [r.presetter_mm for r in file.readings],
            [r.machine_mm - r.presetter_mm for r in file.readings],
            line=line,
        )
        touch = touch_from(found.scatter, **setup.history())
        n = len(file.readings)
        u, dof = touch.mean_u(n)
        influences = Influences()
        transfer = influences.estimate(influences.add("scatter of the tools", found.mean, u, dof))
        one_u, one_dof = touch.reading_u()
        corrected = student_t(0.975, one_dof) * one_u * math.sqrt(1.0 + 1.0 / n + found.reach)
        trend = _trend(found.slope, found.slope_u, n - 2)
        quantities = (
            Quantity.of("transfer_mm", "Machine less presetter", transfer),
            Quantity("spread_mm", "Scatter of the tools", touch.s),
            trend,
            Quantity("trend_p", "By chance alone", found.slope_p, "1"),
            Quantity("corrected_U_mm", "One more tool, corrected", corrected),
            *((Quantity("pivot_mm", "At the length", found.pivot),) if line else ()),
        )
        checks: tuple[Check, ...] = ()
        if setup.limit_mm is not None:
            checks = (check_limit("One more tool", corrected, setup.limit_mm, file.rule.rule(), of="corrected_U_mm"),)
        grows = not line and found.slope_p < TREND_P
        flags = (
            *(("scatter-above-history",) if touch.above_history else ()),
            *(("trend-with-length",) if grows else ()),
        )
        advice = [said("line" if line else "trend", slope=trend.value)] if line or grows else []
        verdict = checks[0].verdict if checks else "none"
        return Evaluation(
            file.procedure, quantities, file.rule.rule(), said("found", transfer=transfer.value, U=corrected),
            said(str(verdict)), checks, flags, tuple(advice),
        )  # fmt: skip

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Five tools, each on both; those that the records hold first."""
        tools = [*bench.named, *range(len(bench.named) + 1, TOOLS + 1)]
        return tuple(
            Slot(
                {"tool": tool}, f"Tool {i}/{len(tools)}", "Length on the presetter", "tools", ("Length on the machine",)
            )
            for i, tool in enumerate(tools, 1)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Choose tools from the shortest to the longest in use; wipe tapers"),
            Step("Each on the presetter, then on the machine's own setter", "tools"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The differences over the length, with the band for the next tool."""
        points = [(float(r["presetter_mm"]), float(r["machine_mm"]) - float(r["presetter_mm"])) for r in readings]
        names = {q.name: q.value for q in result.quantities} if result else {}
        line = bench.setup.word("model") == "line"
        found = (names["transfer_mm"], names["corrected_U_mm"]) if names else None
        slope = (names["trend_ppm"] / PPM, names["pivot_mm"]) if names and line else (0.0, 0.0)
        return transfer_figure(points, found, slope, units)


def _trend(slope: float, u: float, dof: int) -> Quantity:
    """Return the slope in ppm, with the doubt its own residuals give."""
    if u <= 0.0:
        return Quantity("trend_ppm", "Trend with the length", slope * PPM, "ppm")
    influences = Influences()
    try:
        estimate = influences.estimate(influences.add("scatter of the tools", slope * PPM, u * PPM, dof))
    except NonnaError:  # a doubt so small that it vanishes
        return Quantity("trend_ppm", "Trend with the length", slope * PPM, "ppm")
    return Quantity.of("trend_ppm", "Trend with the length", estimate, "ppm")
