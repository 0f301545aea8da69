"""Tooth run-out: how far each insert of a cutter stands out, touched one by one with the spindle oriented."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import TooFewReadingsError
from nonna.figures.teeth import teeth_figure
from nonna.metrology.decision import Verdict
from nonna.metrology.means import TOUCH
from nonna.metrology.scatter import TouchScatter, touch_scatter
from nonna.metrology.spread_of_means import true_range
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TIMES, USUAL_TEETH = 2, 4

said = saying("tooth-runout")
SENTENCES = {
    "found-none": (
        _FOUND := "Tooth {longest} stands out most, {r:small} beyond tooth {shortest}; each height ± {U:small}."
    ),
    "found-pass": _FOUND + " Within {limit:small}.",
    "found-fail": _FOUND + " Over {limit:small}.",
    "found-undecided": _FOUND + " The doubt leaves {limit:small} open.",
    "back": "Tooth {tooth} stands {d:small} back.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Take the insert of tooth {tooth} out, wipe its seat and the insert, put it back and touch again.",
    "undecided": "Touch each tooth once more.",
}


class ToothSetup(Setup):
    """Setup of a tooth run-out."""

    limit_mm: NotNegative | None = asked(
        "Largest run-out",
        help="The longest tooth may stand out this much beyond the shortest.",
        default=None,
        limit=True,
    )


class ToothReading(Strict):
    """Machine Z of the gauge line when a tooth triggered."""

    tooth: int = Field(ge=1, le=200)
    position_mm: Number


class ToothReadings(ReadingsFile):
    """Readings file of a tooth run-out."""

    procedure: Literal["tooth-runout"]
    setup: ToothSetup
    readings: list[ToothReading]


class ToothRunout(Procedure):
    """Each tooth's height from the mean of its touches; ``run-out = longest - shortest``, less what scatter adds to a range."""

    name = "tooth-runout"
    sentences = SENTENCES
    model = ToothReadings
    main = ("runout_mm",)
    main_title = "Tooth run-out"
    carries = REPEATABILITY
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.02, "resolution_mm": 0.0001}
    caution = Caution(
        "Inserts cut",
        "Spindle oriented and locked, never turning. Turn the cutter with a cloth or a glove, doors shut while it moves.",
    )

    def _evaluate(self, file: ToothReadings) -> Evaluation:
        groups: dict[str, list[float]] = {}
        for reading in file.readings:
            groups.setdefault(str(reading.tooth), []).append(reading.position_mm)
        if len(groups) < 2:
            raise TooFewReadingsError("At least two teeth are needed, not {count}.", count=len(groups))
        touch = touch_scatter(list(groups.values()), **file.setup.history())
        heights = {tooth: sum(values) / len(values) for tooth, values in groups.items()}
        longest, shortest = max(heights, key=heights.__getitem__), min(heights, key=heights.__getitem__)
        u, dof = touch.mean_u(min(len(values) for values in groups.values()))
        found = true_range(list(heights.values()), u, dof)
        influences = Influences()
        number = influences.add(TOUCH, found.value, found.u, dof)
        estimate, doubt = influences.estimate(number), _height_doubt(touch, min(len(v) for v in groups.values()))
        runout = estimate.value
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        if file.setup.limit_mm is not None:
            checks = (check_limit("Tooth run-out", runout, file.setup.limit_mm, rule, estimate),)
        verdict = checks[0].verdict if checks else Verdict.NONE
        facts = {"r": runout, "U": doubt, "limit": file.setup.limit_mm or 0.0, "longest": longest, "shortest": shortest}
        out = {tooth: heights[longest] - height for tooth, height in heights.items()}
        back = [said("back", tooth=tooth, d=d) for tooth, d in out.items() if tooth != longest]
        return Evaluation(
            file.procedure,
            (Quantity.of("runout_mm", "Tooth run-out", estimate),),
            rule,
            said(f"found-{verdict}", **facts),
            said(str(verdict), tooth=longest),
            checks,
            ("scatter-above-history",) if touch.above_history else (),
            tuple(back),
            {"longest_tooth": int(longest), "back_mm": out},
        )  # fmt: skip

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Two touches a tooth."""
        teeth = bench.tool_flutes or USUAL_TEETH
        return tuple(
            Slot({"tooth": tooth}, f"Tooth {tooth} {i + 1}/{TIMES}", f"Touch tooth {tooth}", "teeth")
            for tooth in range(1, teeth + 1)
            for i in range(TIMES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Wipe the inserts and the pad; mark tooth 1"),
            Step("Orient so that a tooth stands over the pad, touch, go on to the next", "teeth"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The teeth round the cutter, how far each stands back."""
        back = {} if result is None else {int(t): float(d) for t, d in result.extras["back_mm"].items()}
        return teeth_figure(bench.tool_flutes or USUAL_TEETH, {int(r["tooth"]) for r in readings}, back, units)


def _height_doubt(touch: TouchScatter, count: int) -> float:
    """Return the expanded uncertainty of one tooth's height from so many touches."""
    influences = Influences()
    return influences.estimate(influences.add(TOUCH, 0.0, *touch.mean_u(count))).expanded
