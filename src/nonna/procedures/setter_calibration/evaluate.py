"""Setter calibration: where the trigger plane, the centre and the effective width of a tool setter are."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict, decide
from nonna.metrology.doubt.means import TOUCH, by_axis, enter_by_axis
from nonna.metrology.doubt.scatter import scatter_by_axis
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.metrology.drifting.thermal import at_temperature
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.inputs import Master, master_flags, require
from nonna.procedures.setter_calibration.model import SetterReadings
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("setter-calibration")

_MASTER = "masters.master"


def _master_at_temperature(file: SetterReadings, influences: Influences) -> tuple[Uncertain, Uncertain]:
    """Return length and diameter at temperature; exact in the relative school."""
    master = file.masters.master
    climate = master.climate(file.conditions)
    long, wide = master.length_mm or 0.0, master.diameter_mm or 0.0
    if file.setup.school == "relative":
        return long * climate.factor(), wide * climate.factor()
    temperature, cte = climate.enter(influences)
    long_20 = influences.add("master length", long, master.u_length_mm, field=f"{_MASTER}.length_mm")
    wide_20 = influences.add("master diameter", wide, master.u_diameter_mm, field=f"{_MASTER}.diameter_mm")
    return at_temperature(long_20, temperature, cte), at_temperature(wide_20, temperature, cte)


def _range_check(spread: float, n: int, limit: float, file: SetterReadings) -> Check:
    verdict = decide(spread, limit, 0.0, file.rule.rule())
    if n < 2 and verdict is Verdict.PASS:
        verdict = Verdict.UNDECIDED  # one touch has no range
    return Check("Range on top", spread, spread, spread, limit, verdict)


def _no_doubt(master: Master, has_top: bool) -> bool:
    """Whether the certificate should state an uncertainty of the length used, and does not."""
    return has_top and bool(master.length_mm) and master.U_length_mm == 0.0


def _concluded(
    file: SetterReadings, quantities: tuple[Quantity, ...], checks: Sequence[Check], flags: tuple[str, ...]
) -> Evaluation:
    by_name = {q.name: q for q in quantities}
    plane = by_name.get("trigger_plane_mm")
    facts: dict[str, float] = {}
    advice: list[Reason] = []
    if plane is not None and plane.estimate is not None:
        facts = {"plane": plane.value, "U": plane.estimate.expanded}
        largest = max(plane.estimate.budget, key=lambda row: row.share)
        if largest.source.startswith(TOUCH):
            advice.append(said("more-touches"))
        elif not _no_doubt(file.masters.master, True):  # a share of what is missing says nothing
            advice.append(said("mostly", source=largest.source, percent=100.0 * largest.share))
    verdict = Verdict.NONE
    if checks:
        verdict = checks[0].verdict
        facts |= {"range": checks[0].value, "limit": checks[0].limit}
    if file.setup.school == "relative":
        advice.append(said("relative"))
    return Evaluation(
        file.procedure,
        quantities,
        file.rule.rule(),
        said(f"{'plane' if plane is not None else 'centre'}-{verdict}", **facts),
        said(str(verdict)),
        tuple(checks),
        flags,
        tuple(advice),
    )


def evaluate(file: SetterReadings) -> Evaluation:
    """``H = mean Z_top - L(T)``; centre and width from opposite faces."""
    setup, master = file.setup, file.masters.master
    groups: dict[str, list[float]] = {}
    for reading in file.readings:
        groups.setdefault(reading.face, []).append(reading.position_mm)
    axes = [a for a in ("x", "y") if f"+{a}" in groups or f"-{a}" in groups]
    for a in axes:
        for face, other in ((f"+{a}", f"-{a}"), (f"-{a}", f"+{a}")):
            if face not in groups:
                raise TooFewReadingsError(
                    "{other} was touched but not {face}: touch both faces, or neither.", other=other, face=face
                )
    if not groups:
        raise TooFewReadingsError("Nothing was touched yet.")
    if "top" in groups:
        require(master.length_mm, f"{_MASTER}.length_mm")
    if axes:
        require(master.diameter_mm, f"{_MASTER}.diameter_mm", positive=True)

    along = by_axis(groups)
    touch = scatter_by_axis(along, **setup.history())
    influences = Influences()
    means = enter_by_axis(along, touch, influences)
    length_t, diameter_t = _master_at_temperature(file, influences)
    quantities: list[Quantity] = []
    if "top" in groups:
        plane = means["top"] - length_t
        quantities.append(Quantity.of("trigger_plane_mm", "Trigger plane", influences.estimate(plane)))
    for a in axes:
        plus, minus = means[f"+{a}"], means[f"-{a}"]
        centre = influences.estimate((plus + minus) / 2)
        width = influences.estimate(plus - minus - diameter_t)
        quantities.append(Quantity.of(f"centre_{a}_mm", f"Centre {a.upper()}", centre))
        quantities.append(Quantity.of(f"width_{a}_mm", f"Width {a.upper()}", width))
    checks: tuple[Check, ...] = ()
    if "top" in groups:
        spread = max(groups["top"]) - min(groups["top"])
        quantities.append(Quantity("top_range_mm", "Range on top", spread))
        if setup.limit_range_mm is not None:
            checks = (_range_check(spread, len(groups["top"]), setup.limit_range_mm, file),)
    flags = (
        *touch.flags,
        *(("unequal-sides",) if any(len(groups[f"+{a}"]) != len(groups[f"-{a}"]) for a in axes) else ()),
        *master_flags(master, absolute=setup.school == "absolute", without=_no_doubt(master, "top" in groups)),
    )
    return _concluded(file, tuple(quantities), checks, flags)
