"""Loop closure: the same surface through the setter's chain and through the probe's."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.proof import closure_figure
from nonna.metrology.decision import Verdict
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TIMES = 3
_NAMES = {"tool": "tool", "probe": "probe"}

said = saying("loop-closure")
SENTENCES = {
    "higher-none": (_HIGHER := "The probe sees the surface {size:small} higher than the tool, ± {U:small}."),
    "higher-pass": _HIGHER + " Within {limit:small}.",
    "higher-fail": _HIGHER + " Over {limit:small}.",
    "higher-undecided": _HIGHER + " Whether that is within {limit:small} stays open.",
    "lower-none": (_LOWER := "The probe sees the surface {size:small} lower than the tool, ± {U:small}."),
    "lower-pass": _LOWER + " Within {limit:small}.",
    "lower-fail": _LOWER + " Over {limit:small}.",
    "lower-undecided": _LOWER + " Whether that is within {limit:small} stays open.",
    "apart": "That is more than the doubt: one of the two chains is off.",
    "agree": "That is within the doubt: the two chains agree as far as this can tell.",
    "new-length": "New probe length, if the setter is to be believed: the old one {d:signed}.",
    "pass": "Sign it, then prove the loop on an artefact.",
    "none": "Sign it.",
    "fail": "Prove both on an artefact not used before: it says which chain is off. Redo that one.",
    "undecided": "Measure the surface again, through both.",
}


class ClosureSetup(Setup):
    """Setup of a loop closure."""

    limit_mm: NotNegative | None = asked(
        "Largest difference", help="Tool and probe may see the surface this far apart.", default=None, limit=True
    )


class HeightReading(Strict):
    """The surface's height as one chain sees it: Z of the trigger less the length it uses."""

    via: Literal["tool", "probe"]
    height_mm: Number


class ClosureReadings(ReadingsFile):
    """Readings file of a loop closure."""

    procedure: Literal["loop-closure"]
    setup: ClosureSetup
    readings: list[HeightReading]
    value_fields = ("height_mm",)


class LoopClosure(Procedure):
    """``difference = mean probe - mean tool``."""

    name = "loop-closure"
    sentences = SENTENCES
    model = ClosureReadings
    main = ("difference_mm",)
    main_title = "Probe less tool"
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.010, "resolution_mm": 0.0001}
    caution = Caution(
        "Hands clear while it moves",
        "Doors shut, spindle stopped and confirmed for the probe, rapid turned down, a finger on feed hold.",
    )

    def _evaluate(self, file: ClosureReadings) -> Evaluation:
        groups: dict[str, list[float]] = {"tool": [], "probe": []}
        for reading in file.readings:
            groups[reading.via].append(reading.height_mm)
        for via, values in groups.items():
            if not values:
                raise TooFewReadingsError("The surface was not yet measured by the {value}.", value=_NAMES[via])
        touch = touch_scatter(list(groups.values()), **file.setup.history())
        influences = Influences()
        means = enter_means(groups, touch, influences)
        estimate = influences.estimate(means["probe"] - means["tool"])
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        if file.setup.limit_mm is not None:
            checks = (check_limit("Difference", estimate.value, file.setup.limit_mm, rule, estimate),)
        verdict = checks[0].verdict if checks else Verdict.NONE
        size, side = abs(estimate.value), "higher" if estimate.value > 0 else "lower"
        facts = {"size": size, "U": estimate.expanded, "limit": file.setup.limit_mm or 0.0}
        advice = (said("apart" if size > estimate.expanded else "agree"), said("new-length", d=estimate.value))
        return Evaluation(
            file.procedure,
            (Quantity.of("difference_mm", "Probe less tool", estimate),),
            rule,
            said(f"{side}-{verdict}", **facts),
            said(str(verdict)),
            checks,
            ("scatter-above-history",) if touch.above_history else (),
            advice,
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three heights through each chain."""
        del bench
        return tuple(
            Slot({"via": via}, f"{via} {i + 1}/{TIMES}", f"Height by the {via}", via)
            for via in ("tool", "probe")
            for i in range(TIMES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Cut a small step with a measured tool, or stand a block"),
            Step("Its height by the tool, with the tool's length", "tool"),
            Step("The same face by the probe, with its length", "probe"),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """About what the other chain saw."""
        del bench, slot, field
        return float(readings[-1]["height_mm"]) if readings else None

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """Two ways to one surface."""
        taken = {via: [float(r["height_mm"]) for r in readings if r["via"] == via] for via in ("tool", "probe")}
        estimate = result.quantity("difference_mm").estimate if result else None
        return closure_figure(taken, (estimate.value, estimate.expanded) if estimate else None, units)
