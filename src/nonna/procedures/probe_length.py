"""Probe length: the stylus ball on a surface of known height."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.setter import over_setter
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.telling import saying
from nonna.procedures.tool_length import PositionReading
from nonna.shop.strict_model import NotNegative, Number
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TOUCHES = 3
ABOUT_MM = 120.0  #: drawn until the first result

said = saying("probe-length")
SENTENCES = {
    "found": "Probe length {length:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}


class ProbeLengthSetup(Setup):
    """Setup of a probe length."""

    surface_mm: Number = asked("Surface touched", help="Its height: the setter's trigger plane, or a block's top.")
    surface_u_mm: NotNegative = carried_u("Its standard uncertainty")
    surface_dof: Dof | None = carried_dof()
    correction_mm: Number = asked("Correction", help="From a loop closure: setter against probe.", default=0.0)
    correction_u_mm: NotNegative = carried_u("Correction's standard uncertainty")
    correction_dof: Dof | None = carried_dof()


class ProbeLengthReadings(ReadingsFile):
    """Readings file of a probe length."""

    procedure: Literal["probe-length"]
    setup: ProbeLengthSetup
    readings: list[PositionReading]


class ProbeLength(Procedure):
    """``L_p = mean Z - surface + correction``."""

    name = "probe-length"
    sentences = SENTENCES
    model = ProbeLengthReadings
    main = ("probe_length_mm",)
    main_title = "Probe length"
    compares = True
    variants = (
        Variant("setter", "On the setter"),
        Variant("block", "On a block of known height"),
        Variant("cut", "By test cut"),
    )
    offered: ClassVar[dict[str, Any]] = {"resolution_mm": 0.0001}
    carries = (
        *(replace(carry, variants=("setter",)) for carry in REPEATABILITY),
        *carried("surface", "setter-calibration", "trigger_plane_mm", "setter", ("setter",)),
    )
    caution = Caution(
        "A probe breaks quickly",
        "Spindle locked against turning, probe awake, rapid turned down, a finger on feed hold, doors shut.",
    )

    def _evaluate(self, file: ProbeLengthReadings) -> Evaluation:
        setup, positions = file.setup, [r.position_mm for r in file.readings]
        if not positions:
            raise TooFewReadingsError("No touch was taken yet.")
        touch = touch_scatter([positions], **setup.history())
        influences = Influences()
        mean = enter_means({"all": positions}, touch, influences)["all"]
        surface = setup.enter(influences, "surface", "surface")
        correction = setup.enter(influences, "correction", "correction")
        estimate = influences.estimate(mean - surface + correction)
        return Evaluation(
            file.procedure,
            (Quantity.of("probe_length_mm", "Probe length", estimate),),
            file.rule.rule(),
            said("found", length=estimate.value, U=estimate.expanded),
            said("sign"),
            flags=("scatter-above-history",) if touch.above_history else (),
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three touches."""
        del bench
        return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the surface", "touch") for i in range(TOUCHES))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        first = {
            "block": "Stand the block where its top's height is known (F9); wipe ball and block",
            "cut": "Face a spot with a measured tool; its Z less the tool's length is the surface (F9)",
        }.get(bench.variant, "Wipe taper, ball and pad")
        return (
            Step(first),
            Step("Seat the probe, wake it, spindle locked"),
            Step("Touch the surface three times", "touch"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The probe over the setter, to scale once its length is known."""
        known = None if result is None else result.quantity("probe_length_mm").value
        return over_setter(
            {"block": "Probe over a block", "cut": "Probe over a test cut"}.get(bench.variant, "Probe over the setter"),
            "probe",
            6.0,
            known if known is not None and known > 0.0 else ABOUT_MM,
            pad=bench.pad_width,
            gap=0.0 if readings else 12.0,
            plane="surface",
            part=bench.variant in ("block", "cut"),
            length_words="length not known yet" if known is None else length(known, units),
            known=known is not None,
        )
