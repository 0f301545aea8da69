"""Tool diameter: a tool's edges touched on the faces of a calibrated setter, from both sides or from one."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.metrology.decision import Verdict
from nonna.metrology.errors import TooFewReadingsError
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.metrology.words import Text, Units
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked, require
from nonna.procedures.sheet import REPEATABILITY, Bench, Carry, Caution, Procedure, Slot, Step, Variant
from nonna.shop.strict_model import NotNegative, Number, Strict

if TYPE_CHECKING:
    from nonna.procedures.drawings.figure import Figure

TOUCHES = 2


class DiameterSetup(Setup):
    """Setup of a tool diameter."""

    limit_mm: NotNegative | None = asked(
        "Largest difference", help="The diameter may differ this much from the table.", default=None, limit=True
    )
    expected_mm: Number | None = asked("Diameter in the table", help="What the table holds now.", default=None)
    setter_width_mm: Number = asked("Setter's effective width", help="From the setter calibration.")
    setter_width_u_mm: NotNegative = asked("Width's standard uncertainty", default=0.0)
    setter_centre_mm: Number | None = asked(
        "Setter's centre", help="Needed when one side only is touched.", default=None
    )
    setter_centre_u_mm: NotNegative = asked("Centre's standard uncertainty", default=0.0)
    feed_per_rev_mm: NotNegative = asked("Feed a turn", help="0 when the spindle stands still.", default=0.0)


class SideReading(Strict):
    """X of the spindle axis at one trigger."""

    face: Literal["+x", "-x"]
    position_mm: Number


class DiameterReadings(ReadingsFile):
    """Readings file of a tool diameter."""

    procedure: Literal["tool-diameter"]
    setup: DiameterSetup
    readings: list[SideReading]


class ToolDiameter(Procedure):
    """``D = (x+ - x-) - width + f``; from one side ``D = 2 (|x - centre| - width / 2 + f / 2)``."""

    name = "tool-diameter"
    model = DiameterReadings
    main = ("diameter_mm",)
    main_title = "Diameter"
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.02}
    variants = (Variant("both", "From both sides"), Variant("one", "From one side"))
    carries = (
        *REPEATABILITY,
        Carry("setter_width_mm", "setter-calibration", "width_x_mm", "value", "setter"),
        Carry("setter_width_u_mm", "setter-calibration", "width_x_mm", "u", "setter"),
        Carry("setter_centre_mm", "setter-calibration", "centre_x_mm", "value", "setter"),
        Carry("setter_centre_u_mm", "setter-calibration", "centre_x_mm", "u", "setter"),
    )
    caution = Caution(
        "It turns, backwards and slowly",
        "Doors shut, nobody inside, rapid turned down, a finger on feed hold. Turning forwards would cut the setter.",
    )

    def _evaluate(self, file: DiameterReadings) -> Evaluation:
        setup, feed = file.setup, file.setup.feed_per_rev_mm
        groups: dict[str, list[float]] = {}
        for reading in file.readings:
            groups.setdefault(reading.face, []).append(reading.position_mm)
        if not groups:
            raise TooFewReadingsError("No touch was taken yet.")
        if setup.limit_mm is not None:
            require(setup.expected_mm, "setup.expected_mm")
        if len(groups) == 1:
            require(setup.setter_centre_mm, "setup.setter_centre_mm")
        touch = touch_scatter(list(groups.values()), **setup.history(), extra_history_variance=feed**2 / 12.0)
        influences = Influences()
        means = enter_means(groups, touch, influences)
        width = influences.add("setter's width", setup.setter_width_mm, setup.setter_width_u_mm)
        number: Uncertain
        if len(groups) == 2:
            number = means["+x"] - means["-x"] - width + feed
        else:
            ((face, mean),) = means.items()
            centre = influences.add("setter's centre", setup.setter_centre_mm or 0.0, setup.setter_centre_u_mm)
            reach = mean - centre if face == "+x" else centre - mean
            number = 2.0 * (reach - width / 2.0 + feed / 2.0)
        estimate = influences.estimate(number)
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        lengths = {"d": estimate.value, "U": estimate.expanded, "limit": setup.limit_mm or 0.0}
        said = "Diameter {d:length}, ± {U:small}."
        if setup.expected_mm is not None:
            lengths["change"] = estimate.value - setup.expected_mm
            said = "Diameter {d:length}, {change:signed} against the table."
            if setup.limit_mm is not None:
                checks = (check_limit("Change against the table", lengths["change"], setup.limit_mm, rule, estimate),)
        verdict = checks[0].verdict if checks else Verdict.NONE
        return Evaluation(
            file.procedure,
            (Quantity.of("diameter_mm", "Diameter", estimate),),
            rule,
            Text(said + _FOUND[verdict], lengths),
            Text(_NEXT[verdict]),
            checks,
            ("scatter-above-history",) if touch.above_history else (),
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Two touches a side."""
        faces = ("+x",) if bench.variant == "one" else ("+x", "-x")
        return tuple(
            Slot({"face": face}, f"{face} {i + 1}/{TOUCHES}", f"Touch from the {face} side", face)
            for face in faces
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        second = () if bench.variant == "one" else (Step("Touch from the -x side", "-x"),)
        return (
            Step("Clear chips off the edges and the setter; doors shut"),
            Step("Turning backwards: touch from the +x side", "+x"),
            *second,
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tool beside the pad, from above, to scale."""
        from nonna.procedures.drawings.tool import beside_pad

        wide = bench.tool_diameter if result is None else result.quantity("diameter_mm").value
        sides = {r["face"] for r in readings}
        return beside_pad(
            wide, bench.pad_width, sides, both=bench.variant != "one", known=result is not None, units=units
        )


_FOUND = {
    Verdict.PASS: " That is within {limit:small}.",
    Verdict.FAIL: " That is over {limit:small}.",
    Verdict.UNDECIDED: " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    Verdict.NONE: "",
}
_NEXT = {
    Verdict.PASS: "Sign it to take it over.",
    Verdict.NONE: "Sign it to take it over.",
    Verdict.FAIL: "Is it the right tool, the inserts seated? If so, sign it and tell the next shift.",
    Verdict.UNDECIDED: "Touch it again from both sides.",
}
