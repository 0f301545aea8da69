"""Tool length: a tool's tip touched on a calibrated setter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.setter import over_setter
from nonna.metrology.decision import Verdict
from nonna.metrology.means import TOUCH, enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u, require
from nonna.procedures.sheet import PLANE, REPEATABILITY, Bench, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.procedures.turning import LATE, TurningSetup, enter_late
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.figures.figure import Figure


TOUCHES = 3

said = saying("tool-length")
SENTENCES = {
    "found": "Length {length:length}, ± {U:small}.",
    "change": (_CHANGE := "Length {length:length}, {change:signed} against the table."),
    "change-pass": _CHANGE + " That is within {limit:small}.",
    "change-fail": _CHANGE + " That is over {limit:small}.",
    "change-undecided": _CHANGE + " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    "pass": "Sign it to take it over.",
    "fail": "Is it the right tool, well seated? If so, sign it and tell the next shift.",
    "undecided": "Touch it again, or sign it as it is.",
    "more-touches": "Touch it again: more touches lower the doubt most.",
    "slower-feed": "Touch it with less feed a turn: which edge is met first is most of the doubt.",
    "better-plane": "Calibrate the setter again: its trigger plane is most of the doubt.",
}


class ToolLengthSetup(TurningSetup):
    """Setup of a tool length."""

    limit_mm: NotNegative | None = asked(
        "Largest change", help="The length may differ this much from the table.", default=None, limit=True
    )
    expected_mm: Number | None = asked("Length in the table", help="What the table holds now.", default=None)
    trigger_plane_mm: Number = asked("Trigger plane", help="From the setter calibration.")
    trigger_plane_u_mm: NotNegative = carried_u("Its standard uncertainty")
    trigger_plane_dof: Dof | None = carried_dof()


class PositionReading(Strict):
    """Machine Z of the gauge line at one trigger."""

    position_mm: Number


class ToolLengthReadings(ReadingsFile):
    """Readings file of a tool length."""

    procedure: Literal["tool-length"]
    setup: ToolLengthSetup
    readings: list[PositionReading]


class ToolLength(Procedure):
    """``L = mean Z - H + l``, ``l`` by how much a turning tool is touched late."""

    name = "tool-length"
    sentences = SENTENCES
    model = ToolLengthReadings
    main = ("length_mm",)
    main_title = "Length"
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.05}
    carries = (
        *REPEATABILITY,
        *PLANE,
    )
    caution = Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "Edges cut: wipe the tip with a brush, not a finger.",
    )

    def _evaluate(self, file: ToolLengthReadings) -> Evaluation:
        setup = file.setup
        positions = [r.position_mm for r in file.readings]
        if not positions:
            raise TooFewReadingsError("No touch was taken yet.")
        if setup.limit_mm is not None:
            require(setup.expected_mm, "setup.expected_mm")
        late = setup.lateness()
        touch = touch_scatter([positions], **setup.history(), extra_s=late.touch_s)
        influences = Influences()
        mean = enter_means({"all": positions}, touch, influences)["all"]
        plane = setup.enter(influences, "trigger_plane", "trigger plane")
        estimate = influences.estimate(mean - plane + enter_late(late, influences))
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        facts: dict[str, float] = {"length": estimate.value, "U": estimate.expanded}
        found, todo, advice = "found", "pass", []
        if setup.expected_mm is not None:
            change = estimate.value - setup.expected_mm
            facts["change"], found = change, "change"
            if setup.limit_mm is not None:
                checks = (check_limit("Change against the table", change, setup.limit_mm, rule, estimate),)
                verdict = checks[0].verdict
                facts["limit"], found, todo = setup.limit_mm, f"change-{verdict}", str(verdict)
                if verdict is Verdict.UNDECIDED:
                    advice.append(_what_would_decide(estimate.budget))
        flags = ("scatter-above-history",) if touch.above_history else ()
        quantity = Quantity.of("length_mm", "Length", estimate)
        return Evaluation(
            file.procedure, (quantity,), rule, said(found, **facts), said(todo), checks, flags, tuple(advice)
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three touches."""
        del bench
        return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the tip", "touch") for i in range(TOUCHES))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Wipe the tip and the pad"),
            Step("Tool in the spindle, spindle stopped"),
            Step("Touch the tip three times", "touch"),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """The length in the table above the trigger plane."""
        known = super().expected(bench, slot, readings, field)
        plane, table = bench.setup.number("trigger_plane_mm"), bench.setup.number("expected_mm")
        if known is not None or plane is None or table is None:
            return known
        return float(plane) + float(table)

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tool over the pad, to scale."""
        long = bench.setup.number("expected_mm") or 100.0
        words = f"table {length(long, units)}" if bench.setup.number("expected_mm") else "length not known"
        if result is not None:
            long = result.quantity("length_mm").value
            words = length(long, units)
        return over_setter(
            f"{bench.subject.words} over the setter", bench.tool_kind, bench.tool_diameter, long,
            pad=bench.pad_width, gap=0.0 if readings else 12.0, plane="trigger plane", length_words=words,
            known=result is not None or bool(bench.setup.number("expected_mm")),
        )  # fmt: skip


def _what_would_decide(budget: tuple[Any, ...]) -> Reason:
    largest = max(budget, key=lambda row: row.share)
    if largest.source == TOUCH:
        return said("more-touches")
    if largest.source == LATE:
        return said("slower-feed")
    return said("better-plane")
