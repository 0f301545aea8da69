"""Breakage: is the tool still as long as it was, broken, pulled out, worn, or gone?"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.figures.tool import change_band
from nonna.metrology.decision import Verdict
from nonna.metrology.means import TOUCH, enter_means
from nonna.metrology.scatter import Pooled, pooled, touch_from
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.sheet import PLANE, REPEATABILITY, Bench, Caution, Procedure, Slot, Step, carried
from nonna.procedures.telling import saying
from nonna.procedures.turning import TurningSetup, enter_late
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

State = Literal["ok", "worn", "broken", "pulled-out", "missing"]

said = saying("breakage")
SENTENCES = {
    "ok": "The tool is as it was, {change:signed}, ± {U:small}.",
    "worn": "The tool is worn: {change:signed}, ± {U:small}.",
    "broken": "The tool is broken: {size:small} shorter.",
    "pulled-out": "The tool has pulled out: {size:small} longer.",
    "missing": "No trigger: at least {gone:length} of the tool is gone.",
    "then-ok": "Go on.",
    "then-worn": "Go on; plan a change soon.",
    "then-broken": "Stop. Change the tool, look for its splinters and at the last part it cut.",
    "then-pulled-out": "Stop. The holder has let go: clean and clamp it again, look at the last part it cut.",
    "then-missing": "Stop. Change the tool, look for the rest of it and at the last part it cut.",
}


class BreakageSetup(TurningSetup):
    """Setup of a breakage check."""

    reference_mm: Number = asked("Length when it was good", help="From its newest measured length.")
    reference_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_dof: Dof | None = carried_dof()
    tolerance_short_mm: NotNegative = asked("Shorter by more: broken", limit=True)
    tolerance_long_mm: NotNegative = asked("Longer by more: pulled out", limit=True)
    wear_mm: NotNegative = asked("Shorter by more: worn", help="0: wear is not watched.", default=0.0)
    trigger_plane_mm: Number = asked("Trigger plane", help="From the setter calibration.")
    trigger_plane_u_mm: NotNegative = carried_u("Plane's standard uncertainty")
    trigger_plane_dof: Dof | None = carried_dof()
    same_plane: bool = asked(
        "Reference from this plane", "", "Whether the reference was measured on this very plane: its doubt cancels in "
        "the change, and reference_u_mm is the reference's without it.", False,
    )  # fmt: skip
    reference_touches: int | None = Field(
        None, ge=2, le=1000, title="Touches it is the mean of",
        description="Where the reference's doubt (same_plane) is the scatter of so many touches and nothing else: "
        "pooled with the touches of the check, for it is the same tool on the same setter.",
    )  # fmt: skip

    def pooled_with(self, here: Pooled) -> Pooled | None:
        """Return the scatter of one touch from the check's touches and the reference's; None where they do not pool."""
        alike = self.same_plane and self.reference_touches and self.reference_dof == self.reference_touches - 1
        if not alike or self.repeatability_mm or self.reference_touches is None or self.reference_u_mm == 0.0:
            return None
        dof = self.reference_touches - 1
        then = self.reference_u_mm**2 * self.reference_touches
        return Pooled((here.dof * here.variance + dof * then) / (here.dof + dof), here.dof + dof)


class BreakReading(Strict):
    """Where it triggered, or how low it went without a trigger."""

    position_mm: Number | None = None
    no_trigger: bool = False
    lowest_mm: Number | None = None


class BreakageReadings(ReadingsFile):
    """Readings file of a breakage check."""

    procedure: Literal["breakage"]
    setup: BreakageSetup
    readings: list[BreakReading]


class Breakage(Procedure):
    """``change = L - reference`` against what counts as worn, broken, pulled out."""

    name = "breakage"
    sentences = SENTENCES
    model = BreakageReadings
    main = ("change_mm",)
    main_title = "Change"
    offered: ClassVar[dict[str, Any]] = {"tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2, "wear_mm": 0.05}
    carries = (
        *REPEATABILITY,
        *PLANE,
        *carried("reference", "tool-length", "length_mm", "tools", same_subject=True),
    )
    caution = Caution(
        "A broken tool is sharp",
        "Doors shut while it moves. Lock out before you reach in; pick splinters with a brush, not with fingers.",
    )

    def _evaluate(self, file: BreakageReadings) -> Evaluation:
        setup = file.setup
        if not file.readings:
            raise TooFewReadingsError("No touch was taken yet.")
        positions, lowest = _sorted(file.readings)
        if lowest:
            return _missing(file, min(lowest))
        late = setup.lateness()
        both = setup.pooled_with(here := pooled([positions]))
        touch = touch_from(both or here, **setup.history(), extra_s=late.touch_s)
        influences = Influences()
        mean = enter_means({"all": positions}, touch, influences)["all"] + enter_late(late, influences)
        plane = setup.enter(influences, "trigger_plane", "trigger plane")
        if both is None or setup.reference_touches is None:
            reference = setup.enter(influences, "reference", "reference length")
        else:
            u, dof = touch.mean_u(setup.reference_touches)
            reference = influences.add(
                "reference length", setup.reference_mm, u, dof, field="setup.reference_mm", pool=TOUCH
            )
        then = (
            setup.trigger_plane_mm if setup.same_plane else plane
        )  # the same error in both lengths is none in the change
        long, change = influences.estimate(mean - plane), influences.estimate(mean - then - reference)
        state = _state(change.value, setup)
        guard = change.k1 * change.u
        near = min(abs(change.value + setup.tolerance_short_mm), abs(change.value - setup.tolerance_long_mm))
        flags = (
            *(("scatter-above-history",) if touch.above_history else ()),
            *(("worn",) if state == "worn" else ()),
            *(("close-call",) if near <= guard else ()),
        )
        size = abs(change.value)
        limit = setup.tolerance_short_mm if change.value < 0.0 else setup.tolerance_long_mm
        verdict = Verdict.PASS if state in ("ok", "worn") else Verdict.FAIL
        quantities = (
            Quantity.of("change_mm", "Change", change),
            Quantity.of("length_mm", "Length", long),
        )
        return Evaluation(
            file.procedure,
            quantities,
            file.rule.rule(),
            said(state, change=change.value, size=size, U=change.expanded),
            said(f"then-{state}"),
            (Check("Change", size, max(0.0, size - guard), size + guard, limit, verdict),),
            flags,
            extras={"state": state},
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """One touch: a check has to be quick."""
        del bench
        return (Slot({}, "Touch", "Touch the tip", "touch"),)

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (Step("Blow the chips off, doors shut"), Step("Touch once", "touch"), Step("Sign"))

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """Where the whole tool would trigger."""
        del slot, readings, field
        plane, reference = bench.setup.number("trigger_plane_mm"), bench.setup.number("reference_mm")
        return plane + reference if plane is not None and reference is not None else None

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The change between what counts as broken and pulled out."""
        setup = bench.setup
        found = None
        if result is not None and any(q.name == "change_mm" for q in result.quantities):
            estimate = result.quantity("change_mm").estimate
            found = (estimate.value, estimate.expanded) if estimate else None
        return change_band(
            setup.number("tolerance_short_mm", 0.0), setup.number("tolerance_long_mm", 0.0), setup.number("wear_mm", 0.0), found,
            str(result.extras.get("state", "")) if result else "", units,
        )  # fmt: skip


def _sorted(readings: list[BreakReading]) -> tuple[list[float], list[float]]:
    """Return the positions of triggers, and the lowest points reached without one. Raises: NonnaError."""
    positions: list[float] = []
    lowest: list[float] = []
    for i, r in enumerate(readings):
        wanted, other = ("lowest_mm", "position_mm") if r.no_trigger else ("position_mm", "lowest_mm")
        value = getattr(r, wanted)
        if value is None:
            raise NonnaError(
                "missing-field",
                "readings[{i}].{wanted}: this is missing.",
                f"readings[{i}].{wanted}",
                i=i,
                wanted=wanted,
            )
        if getattr(r, other) is not None:
            where = f"readings[{i}].{other}"
            raise NonnaError(
                "unknown-field", "{place}: a touch either triggered or did not; leave one out.", where, place=where
            )
        (lowest if r.no_trigger else positions).append(value)
    return positions, lowest


def _state(change: float, setup: BreakageSetup) -> State:
    if change < -setup.tolerance_short_mm:
        return "broken"
    if change > setup.tolerance_long_mm:
        return "pulled-out"
    if setup.wear_mm > 0.0 and change < -setup.wear_mm:
        return "worn"
    return "ok"


def _missing(file: BreakageReadings, lowest: float) -> Evaluation:
    """No trigger down to the lowest point: at least so much is gone."""
    setup = file.setup
    gone = setup.reference_mm - (lowest - setup.trigger_plane_mm)
    limit = setup.tolerance_short_mm
    return Evaluation(
        file.procedure,
        (Quantity("least_gone_mm", "At least gone", gone),),
        file.rule.rule(),
        said("missing", gone=gone),
        said("then-missing"),
        (Check("At least gone", abs(gone), abs(gone), abs(gone), limit, Verdict.FAIL),),
        extras={"state": "missing"},
    )
