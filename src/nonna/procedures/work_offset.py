"""Work offset: a surface touched with a tool, a probe or a sensor of known height between."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.setter import over_setter
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.telling import saying
from nonna.procedures.tool_length import PositionReading
from nonna.shop.strict_model import NotNegative, Number
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TOUCHES = 3

said = saying("work-offset")
SENTENCES = {
    "found": "The surface stands at Z {w:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}


class WorkOffsetSetup(Setup):
    """Setup of a work offset."""

    tool_length_mm: Number = asked("Length of what touches", help="The tool, or the probe, in the spindle.")
    tool_length_u_mm: NotNegative = carried_u("Its standard uncertainty")
    tool_length_dof: Dof | None = carried_dof()
    height_mm: Number = asked("Height between", help="Of a sensor or block on the part; 0 without one.", default=0.0)
    height_u_mm: NotNegative = carried_u("Height's standard uncertainty")
    height_dof: Dof | None = carried_dof()


class WorkOffsetReadings(ReadingsFile):
    """Readings file of a work offset."""

    procedure: Literal["work-offset"]
    setup: WorkOffsetSetup
    readings: list[PositionReading]


class WorkOffset(Procedure):
    """``W = Z_touch - L_tool - height``."""

    name = "work-offset"
    sentences = SENTENCES
    model = WorkOffsetReadings
    main = ("offset_mm",)
    main_title = "Work offset Z"
    offered: ClassVar[dict[str, Any]] = {"resolution_mm": 0.0001}
    variants = (
        Variant("probe", "With the probe", {"height_mm": 0.0}),
        Variant("tool", "With a tool of known length"),
        Variant("block", "With a tool and a block or sensor"),
    )
    carries = carried("tool_length", "probe-length", "probe_length_mm", "probe", ("probe",))
    caution = Caution(
        "Hands clear while it moves",
        "A part's edge pinches: move the last millimetre by handwheel. Spindle stopped and confirmed for a probe.",
    )

    def _evaluate(self, file: WorkOffsetReadings) -> Evaluation:
        setup, positions = file.setup, [r.position_mm for r in file.readings]
        if not positions:
            raise TooFewReadingsError("No touch was taken yet.")
        touch = touch_scatter([positions], **setup.history())
        influences = Influences()
        mean = enter_means({"all": positions}, touch, influences)["all"]
        long = setup.enter(influences, "tool_length", "length of what touches")
        height = setup.enter(influences, "height", "height between")
        estimate = influences.estimate(mean - long - height)
        return Evaluation(
            file.procedure,
            (Quantity.of("offset_mm", "Work offset Z", estimate),),
            file.rule.rule(),
            said("found", w=estimate.value, U=estimate.expanded),
            said("sign"),
            flags=("scatter-above-history",) if touch.above_history else (),
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three touches."""
        del bench
        return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the part", "touch") for i in range(TOUCHES))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        what = {"tool": "tool", "block": "tool, on the block or sensor"}.get(bench.variant, "probe")
        return (
            Step("Wipe the part's face and what touches it"),
            Step(f"Touch three times with the {what}", "touch"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """What touches over the part."""
        long = bench.setup.number("tool_length_mm") or 0.0
        offset = "part" if result is None else f"W {length(result.quantity('offset_mm').value, units, unit=False)}"
        kind = "probe" if bench.variant in ("", "probe") else "end-mill"
        return over_setter(
            "What touches, over the part", kind, 6.0 if kind == "probe" else bench.tool_diameter, long if long > 0 else 100.0,
            pad=60.0, part=True, gap=0.0 if readings else 12.0, plane=offset,
            length_words=length(long, units) if long > 0 else "length not known yet", known=long > 0,
        )  # fmt: skip
