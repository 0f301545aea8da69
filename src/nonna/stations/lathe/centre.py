"""The turret's centre line: an indicator in the chuck swept round a bar held in a station."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import centre_figure
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked, require
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

Side = Literal["+x", "-x", "+y", "-y"]
SIDES: tuple[Side, ...] = ("+x", "+y", "-x", "-y")  #: in the order the chuck is turned
TOUCHES = 2
said = saying("lathe-centre")
SENTENCES = {
    "found": "A tool on the centre line of this turret has {axis} offset {value:length}, ± {U:small}.",
    "height": "The bar stands {d:signed} off the spindle's height.",
    "sign": "Sign it: drills take their X from it.",
    "pass": "Sign it: drills take their X from it.",
    "fail": "Too far off in height for a drill: is the bar seated, was the turret hit? Shim it or have it aligned.",
    "undecided": "Sweep it once more.",
}


class CentreSetup(IndicatorSetup):
    """Setup of a sweep round a bar."""

    x_shows: XShows = x_shows()
    machine_x_mm: Number | None = asked(
        "Machine X of the sweep", help="As shown; the bar about on the axis.", default=None
    )
    limit_height_mm: NotNegative | None = asked(
        "Largest error in height", help="Of the bar against the spindle's axis.", default=None, limit=True
    )


class SweepReading(Strict):
    """The dial on one side of the bar, larger the further the bar reaches out there."""

    at: Side
    value_mm: Number


class CentreReadings(ReadingsFile):
    """Readings file of a sweep round a bar."""

    procedure: Literal["lathe-centre"]
    setup: CentreSetup
    readings: list[SweepReading]
    value_fields = ("value_mm",)


class LatheCentre(Procedure):
    """``x = (mean+ - mean-) / 2``, the bar's real distance from the axis; ``centre line = x / f - machine X``."""

    name = "lathe-centre"
    sentences = SENTENCES
    model = CentreReadings
    main = ("centre_line_x_mm",)
    main_title = "Centre line in X"
    reads: ClassVar[dict[str, str]] = {"value_mm": "dial"}
    foreseeable = False
    offered: ClassVar[dict[str, Any]] = {
        "x_shows": "diameter",
        "limit_height_mm": 0.05,
        "indicator": {"resolution_mm": 0.001},
    }
    caution = Caution(
        "The chuck is turned by hand, drive off",
        "Indicator in the chuck, a ground bar in the station. Drive off, doors open only while nothing moves; move X with "
        "the smallest step near the bar.",
    )

    def _evaluate(self, file: CentreReadings) -> Evaluation:
        setup = file.setup
        turn = setup.indicator.cosine
        sides = {at: [r.value_mm * turn for r in file.readings if r.at == at] for at in SIDES}
        if not sides["+x"] or not sides["-x"]:
            raise TooFewReadingsError("The +X and the -X side are needed, each read at least once.")
        require(setup.machine_x_mm, "setup.machine_x_mm")
        influences = Influences()
        swept: dict[str, list[float]] = {at: values for at, values in sides.items() if values}
        touch = touch_scatter(list(swept.values()), **setup.history())
        means = enter_means(swept, touch, influences, "repeated sweep")
        off = influences.add("dial", 0.0, setup.indicator.mpe_mm * turn / math.sqrt(3.0), shape="rectangular")
        factor = real_per_shown("x", setup.x_shows)
        title = as_shown("x", setup.x_shows)
        line = ((means["+x"] - means["-x"]) / 2 + off) * (1.0 / factor) - setup.machine_x_mm
        quantities = [Quantity.of("centre_line_x_mm", f"Centre line, {title} offset", influences.estimate(line))]
        told, checks = [], tuple[Check, ...]()
        rule = file.rule.rule()
        if "+y" in means and "-y" in means:
            high = influences.estimate((means["+y"] - means["-y"]) / 2 + off)
            quantities.append(Quantity.of("height_mm", "Height against the axis", high))
            told.append(said("height", d=high.value))
            if setup.limit_height_mm is not None:
                checks = (check_limit("Height", high.value, setup.limit_height_mm, rule, high, of="height_mm"),)
        found = quantities[0].estimate
        flags = ("scatter-above-history",) if touch.above_history else ()
        headline = said("found", axis=title, value=quantities[0].value, U=found.expanded if found else 0.0)
        advice = said(str(checks[0].verdict) if checks else "sign")
        return Evaluation(file.procedure, tuple(quantities), rule, headline, advice, checks, flags, tuple(told))

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Two turns of the chuck, four sides each."""
        del bench
        return tuple(
            Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Dial on the {at.upper()} side of the bar", at)
            for i in range(TOUCHES)
            for at in SIDES
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step(
                "A ground bar in the station, the indicator in the chuck; bring the bar about on the axis, note machine X (F9)"
            ),
            *(Step(f"Turn the chuck: the {at.upper()} side", at) for at in SIDES),
            Step("Once round again, then sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The bar seen along the axis, where it stands and where it should."""
        del bench
        found = {q.name: q.value for q in result.quantities} if result else {}
        rows = {at: [float(r["value_mm"]) for r in readings if r["at"] == at] for at in SIDES}
        x = (
            (sum(rows["+x"]) / len(rows["+x"]) - sum(rows["-x"]) / len(rows["-x"])) / 2
            if rows["+x"] and rows["-x"]
            else None
        )
        return centre_figure({at for at in SIDES if rows[at]}, x, found.get("height_mm"), units)
