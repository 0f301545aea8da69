"""Artefact check: a second artefact, not used before, measured through the whole loop."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.proof import artefact_figure
from nonna.metrology.agreement import en_number
from nonna.metrology.decision import worst
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.thermal import at_temperature
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import (
    Dof,
    Master,
    Masters,
    ReadingsFile,
    Setup,
    asked,
    carried_dof,
    carried_u,
    master_flags,
    require,
)
from nonna.procedures.sheet import REPEATABILITY, Bench, Carry, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TIMES = 3

said = saying("artefact-check")
SENTENCES = {
    "found": "The artefact comes out {e:signed} off, ± {U:small}: Eₙ {en:2f}.",
    "not-held": "The loop does not hold its promise. Look at closure and temperature, then redo the weakest link.",
    "pass": "Sign it: the loop is proved.",
    "fail": "The doubt is honest, but the error is over its limit: calibrate again.",
    "undecided": "Measure it again, or with a better artefact.",
    "none": "Measure it again, or with a better artefact.",
}


class ArtefactSetup(Setup):
    """Setup of an artefact check."""

    limit_mm: NotNegative | None = asked("Largest error", help="Beside the E_n number.", default=None, limit=True)
    calibration_u_mm: NotNegative = carried_u(
        "Standard uncertainty of the loop", help="What the calibrations this rests on leave in doubt."
    )
    calibration_dof: Dof | None = carried_dof()
    quantity: Literal["length", "diameter"] = asked("What is measured", "")


class ArtefactMasters(Masters):
    """The artefact, with its certificate."""

    artefact: Master


class MeasuredReading(Strict):
    """The artefact as the loop measured it."""

    value_mm: Number


class ArtefactReadings(ReadingsFile):
    """Readings file of an artefact check."""

    procedure: Literal["artefact-check"]
    setup: ArtefactSetup
    masters: ArtefactMasters
    readings: list[MeasuredReading]
    value_fields = ("value_mm",)


class ArtefactCheck(Procedure):
    """``error = mean - value(T)`` and the E_n number (ISO 13528): believe the loop only after this."""

    name = "artefact-check"
    sentences = SENTENCES
    model = ArtefactReadings
    main = ("error_mm",)
    main_title = "Error"
    role = "artefact"
    master_kinds = ("ring", "block", "master-tool")
    variants = (
        Variant("diameter", "Diameter", {"quantity": "diameter"}, ("ring",)),
        Variant("length", "Length", {"quantity": "length"}, ("block", "master-tool")),
        Variant("daily", "One touch of the master", {"quantity": "length", "limit_mm": 0.01}, ("master-tool",)),
    )
    carries = (
        Carry("calibration_u_mm", "probe-ring", "ball_radius_mm", "u", "ring", ("diameter",), factor=2.0),
        Carry("calibration_dof", "probe-ring", "ball_radius_mm", "dof", "ring", ("diameter",)),
        *carried("calibration", "probe-length", "probe_length_mm", "probe", ("length",))[1:],
        *carried("calibration", "setter-calibration", "trigger_plane_mm", "setter", ("daily",))[1:],
        *(replace(carry, variants=("daily",)) for carry in REPEATABILITY),
    )
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.004, "resolution_mm": 0.0001}
    caution = Caution(
        "Hands clear while it moves",
        "Spindle locked for the probe, doors shut, rapid turned down, a finger on feed hold.",
    )

    def _evaluate(self, file: ArtefactReadings) -> Evaluation:
        setup, artefact = file.setup, file.masters.artefact
        values = [r.value_mm for r in file.readings]
        if not values:
            raise TooFewReadingsError("The artefact was not measured yet.")
        if setup.quantity == "length":
            stated, certified = require(artefact.length_mm, "masters.artefact.length_mm"), artefact.u_length_mm
        else:
            stated = require(artefact.diameter_mm, "masters.artefact.diameter_mm", positive=True)
            certified = artefact.u_diameter_mm
        touch = touch_scatter([values], **setup.history())
        influences = Influences()
        mean = enter_means({"all": values}, touch, influences)["all"]
        calibration = setup.enter(influences, "calibration", "calibration of the loop", 0.0)
        temperature, cte = artefact.climate(file.conditions).enter(influences, "artefact")
        own = f"masters.artefact.{setup.quantity}_mm"
        value = at_temperature(influences.add("artefact", stated, certified, field=own), temperature, cte)
        error = influences.estimate(mean + calibration - value)
        en = en_number(error, own)
        rule = file.rule.rule()
        checks: list[Check] = [check_limit("Eₙ", en, 1.0, rule, unit="1")]
        if setup.limit_mm is not None:
            checks.append(check_limit("Error", error.value, setup.limit_mm, rule, error))
        made = (
            Quantity.of("error_mm", "Error", error),
            Quantity("en", "Eₙ", en, "1"),
        )
        flags = (
            *(("scatter-above-history",) if touch.above_history else ()),
            *master_flags(artefact, without=certified == 0.0),
        )
        verdict = worst(c.verdict for c in checks)
        return Evaluation(
            file.procedure,
            made,
            rule,
            said("found", e=error.value, U=error.expanded, en=en),
            said("not-held" if en > 1.0 else str(verdict)),
            tuple(checks),
            flags,
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three measurements; one for the daily check."""
        if bench.variant == "daily":
            return (Slot({}, "1/1", "Z of the touch less the trigger plane", "values"),)
        return tuple(Slot({}, f"{i + 1}/{TIMES}", "Measured value", "values") for i in range(TIMES))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        if bench.variant == "daily":
            return (
                Step("Wipe taper, master and pad; spindle stopped"),
                Step("Touch the setter once with the master", "values"),
                Step("Sign"),
            )
        what = "diameter" if bench.variant in ("", "diameter") else "length"
        return (
            Step("Fetch an artefact that no calibration here has used; let it take the machine's temperature"),
            Step(f"Measure its {what} with the probe, three times", "values"),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """What its certificate says."""
        del slot, readings, field
        name = "diameter_mm" if bench.variant in ("", "diameter") else "length_mm"
        value = bench.master("artefact").number(name)
        return value or None

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The error with its doubt beside the artefact's own."""
        artefact = bench.master("artefact")
        name = "diameter" if bench.variant in ("", "diameter") else "length"
        certified = artefact.number(f"U_{name}_mm", 0.0) * 2.0 / artefact.number("k", 2.0)
        estimate = result.quantity("error_mm").estimate if result else None
        return artefact_figure(
            certified, (estimate.value, estimate.expanded) if estimate else None,
            result.quantity("en").value if result else None, units,
        )  # fmt: skip
