"""Breakage: is the tool still as long as it was, broken, pulled out, worn, or gone?"""

from __future__ import annotations

from typing import Literal

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.means import TOUCH, enter_means
from nonna.metrology.doubt.scatter import pooled, touch_from
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.breakage.model import BreakageReadings, BreakageSetup, BreakReading
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.telling import saying
from nonna.procedures.turning import enter_late

said = saying("breakage")

State = Literal["ok", "worn", "broken", "pulled-out", "missing"]


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


def evaluate(file: BreakageReadings) -> Evaluation:
    """``change = L - reference`` against what counts as worn, broken, pulled out."""
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
    then = setup.trigger_plane_mm if setup.same_plane else plane  # the same error in both lengths is none in the change
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
