"""The reference tool by a test cut: turn, measure with a micrometer, face, measure."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import test_cut_figure
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import ReadingsFile, Setup, asked, require
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

TOUCHES = 3  #: with two, what a display of 1 µm hides would be taken for a scatter of one degree of freedom
said = saying("lathe-offset-cut")
SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}


class Micrometer(Strict):
    """What the cut was measured with."""

    resolution_mm: NotNegative = asked("Its resolution", help="Smallest step it shows.", default=0.0)
    mpe_mm: NotNegative = asked("Its maximum permissible error", help="From its certificate.", default=0.0)


class CutSetup(Setup):
    """Setup of a test cut."""

    x_shows: XShows = x_shows()
    machine_x_mm: Number | None = asked("Machine X of the cut", help="As shown while it turned.", default=None)
    machine_z_mm: Number | None = asked("Machine Z of the face", help="As shown while it faced.", default=None)
    indicator: Micrometer = Micrometer()


class CutReading(Strict):
    """What was measured: the turned diameter, or where the face lies."""

    axis: Literal["x", "z"]
    value_mm: Number


class CutReadings(ReadingsFile):
    """Readings file of a test cut."""

    procedure: Literal["lathe-offset-cut"]
    setup: CutSetup
    readings: list[CutReading]
    value_fields = ("value_mm",)


class OffsetCut(Procedure):
    """``offset_x = mean measured diameter (half of it on radius) - machine X``; ``offset_z = face - machine Z``."""

    name = "lathe-offset-cut"
    sentences = SENTENCES
    model = CutReadings
    main = ("offset_x_mm", "offset_z_mm")
    main_title = "X offset"
    any_main = True
    by_dial = False
    reads: ClassVar[dict[str, str]] = {}
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter"}
    caution = Caution(
        "Spindle stopped before the micrometer comes near",
        "Doors shut and chuck at full pressure for the cut. Back the turret off, stop the spindle and see it stand still, "
        "only then open the door and measure.",
    )

    def _evaluate(self, file: CutReadings) -> Evaluation:
        setup = file.setup
        influences = Influences()
        quantities: list[Quantity] = []
        above = False
        known = setup.history()
        known["resolution"] = setup.indicator.resolution_mm or setup.resolution_mm
        for axis in ("x", "z"):
            values = [r.value_mm for r in file.readings if r.axis == axis]
            if not values:
                continue
            machine: float | None = getattr(setup, f"machine_{axis}_mm")
            require(machine, f"setup.machine_{axis}_mm")
            touch = touch_scatter([values], **known)  # of the measured value: real mm, whatever the machine shows
            above = above or touch.above_history
            mean = enter_means({axis: values}, touch, influences, f"repeated measurement in {axis.upper()}")[axis]
            off = influences.add(
                f"micrometer in {axis.upper()}", 0.0, setup.indicator.mpe_mm / math.sqrt(3.0), shape="rectangular"
            )
            halved = 0.5 if axis == "x" and real_per_shown("x", setup.x_shows) == 1.0 else 1.0
            estimate = influences.estimate((mean + off) * halved - machine)
            quantities.append(Quantity.of(f"offset_{axis}_mm", f"{as_shown(axis, setup.x_shows)} offset", estimate))
        if not quantities:
            raise TooFewReadingsError("Nothing was measured yet.")
        told = [
            said(
                "found",
                axis=q.title.removesuffix(" offset"),
                value=q.value,
                U=q.estimate.expanded if q.estimate else 0.0,
            )
            for q in quantities
        ]
        flags = ("scatter-above-history",) if above else ()
        return Evaluation(
            file.procedure, tuple(quantities), file.rule.rule(), told[0], said("sign"), (), flags, tuple(told[1:])
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """The diameter and the face, each three times."""
        del bench
        return tuple(
            Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", prompt, axis)
            for axis, prompt in (("x", "Turned diameter, measured"), ("z", "Where the face lies"))
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Doors shut, full chuck pressure: turn a short step, note machine X (F9), leave X where it is"),
            Step("Spindle stopped: measure the diameter three times, turned a third each time", "x"),
            Step("Face lightly, note machine Z (F9); measure where the face lies, three times", "z"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The cut in the chuck."""
        del bench
        sizes = [float(r["value_mm"]) for r in readings if r["axis"] == "x"]
        found = {q.title: q.value for q in result.quantities} if result else {}
        return test_cut_figure(sum(sizes) / len(sizes) if sizes else None, found, units)
