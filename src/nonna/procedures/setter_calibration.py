"""Setter calibration: where the trigger plane, the centre and the effective width of a tool setter are."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.setter import over_setter
from nonna.figures.tool import master_beside_pad
from nonna.metrology.decision import Verdict, decide
from nonna.metrology.means import TOUCH, by_axis, enter_by_axis
from nonna.metrology.scatter import scatter_by_axis
from nonna.metrology.thermal import at_temperature
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.inputs import Master, Masters, ReadingsFile, Setup, asked, master_flags, require
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.figures.figure import Figure


Face = Literal["top", "+x", "-x", "+y", "-y"]
TOP_TOUCHES, SIDE_TOUCHES = 3, 2
_MASTER = "masters.master"

said = saying("setter-calibration")
SENTENCES = {
    "plane-none": (_PLANE := "Trigger plane at {plane:length}, ± {U:small}."),
    "plane-pass": _PLANE + " The touches agree within {range:small}.",
    "plane-fail": _PLANE + " The touches differ by {range:small}, over {limit:small}.",
    "plane-undecided": _PLANE + " One touch has no range.",
    "centre-none": (_CENTRE := "Centre and width found."),
    "centre-pass": _CENTRE + " The touches agree within {range:small}.",
    "centre-fail": _CENTRE + " The touches differ by {range:small}, over {limit:small}.",
    "centre-undecided": _CENTRE + " One touch has no range.",
    "more-touches": "More touches on top would lower the doubt most.",
    "mostly": "Most of the doubt is the {source}, {percent:0f} %: more touches would not help.",
    "relative": "Relative school: tools agree with each other, not with the world.",
    "pass": "Sign it, then measure the tools.",
    "none": "Sign it, then measure the tools.",
    "fail": "Clean pad and master and start again.",
    "undecided": "Touch the top again.",
}


class SetterSetup(Setup):
    """Setup of a setter calibration."""

    limit_range_mm: NotNegative | None = asked(
        "Range of the top touches", help="The touches on top must lie within this.", default=None, limit=True
    )
    school: Literal["absolute", "relative"] = asked(
        "Lengths", "", "Absolute: from a certified master. Relative: the master counts as exact.", "absolute"
    )


class SetterMasters(Masters):
    """The master tool, the spindle face (length 0) or a block under the spindle face."""

    master: Master


class FaceReading(Strict):
    """Machine position at one trigger."""

    face: Face
    position_mm: Number


class SetterReadings(ReadingsFile):
    """Readings file of a setter calibration."""

    procedure: Literal["setter-calibration"]
    setup: SetterSetup
    masters: SetterMasters
    readings: list[FaceReading]


class SetterCalibration(Procedure):
    """``H = mean Z_top - L(T)``; centre and width from opposite faces."""

    name = "setter-calibration"
    sentences = SENTENCES
    model = SetterReadings
    main = ("trigger_plane_mm",)
    main_title = "Trigger plane"
    offered: ClassVar[dict[str, Any]] = {"limit_range_mm": 0.004, "school": "absolute"}
    carries = REPEATABILITY
    master_kinds = ("master-tool", "spindle-face", "block")
    variants = (
        Variant("master", "Master tool"),
        Variant("spindle-face", "Spindle face"),
        Variant("block", "Block under the spindle face"),
    )
    variant_of_master = True
    caution = Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "The machine's manual and your shop's rules come first.",
    )

    def _evaluate(self, file: SetterReadings) -> Evaluation:
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

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three touches on top, then two on each face that can be touched; only the top for spindle face and block."""
        top = [_slot("top", i, TOP_TOUCHES, "Top") for i in range(TOP_TOUCHES)]
        faces = [f"{sign}{axis}" for axis in _axes(bench) for sign in "+-"]
        return tuple(top + [_slot(f, i, SIDE_TOUCHES, f) for f in faces for i in range(SIDE_TOUCHES)])

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        if bench.variant == "spindle-face":
            return (
                Step("Take every tool out; wipe spindle face and pad"),
                Step(
                    "Is the nose open in its middle, wider than the pad? Then bring its ring over the pad, not its axis"
                ),
                Step("Bring the bare spindle face down on the pad, slowly", "top"),
                Step("Sign"),
            )
        if bench.variant == "block":
            return (
                Step("Wipe block, pad and spindle face"),
                Step("Stand the block on the pad; bring the bare spindle face down to it", "top"),
                Step("Sign"),
            )
        return (
            Step("Wipe taper, master and pad"),
            Step("Seat the master; spindle stopped"),
            Step("Touch the top three times", "top"),
            *(Step(f"Touch both {axis.upper()} faces", axis) for axis in _axes(bench)),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """The plane and centre known before, plus what the master adds."""
        known = super().expected(bench, slot, readings, field)
        return known if known is not None else bench.about.get(str(slot.fields["face"]))

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The master over the pad, or at the side that is asked for, to scale."""
        master, asked = bench.master("master"), self.asked_face(bench, readings)
        if asked not in ("", "top"):
            faces = [f"{sign}{axis}" for axis in _axes(bench) for sign in "+-"]
            touched = {str(r.get("face")) for r in readings} - {asked}
            wide = master.number("diameter_mm") or 16.0
            return master_beside_pad(wide, bench.pad_width, asked, touched, faces, square=bench.pad_square)
        long = master.number("length_mm", 0.0)
        kind = "master" if bench.variant in ("", "master") else "block"
        plane = "trigger plane"
        if result is not None and any(q.name == "trigger_plane_mm" for q in result.quantities):
            plane = f"Z {length(result.quantity('trigger_plane_mm').value, units, unit=False)}"
        title = {"master": "Master over the setter, its length at 20 °C", "block": "Block under the spindle face"}[kind]
        if long == 0.0:
            title = "Spindle face over the setter"
        return over_setter(
            title, kind, master.number("diameter_mm") or (30.0 if kind == "block" else 16.0), long,
            pad=bench.pad_width, gap=0.0 if readings else 12.0, plane=plane,
            length_words=length(long, units),
        )  # fmt: skip


def _axes(bench: Bench) -> tuple[str, ...]:
    """Return the axes along which the middle can be found: both sides free, and the master's diameter known."""
    if bench.variant in ("spindle-face", "block") or not bench.master("master").number("diameter_mm"):
        return ()
    return tuple(axis for axis in "xy" if {f"+{axis}", f"-{axis}"} <= set(bench.sides))


def _slot(face: str, index: int, count: int, name: str) -> Slot:
    prompt = "Touch the top" if face == "top" else f"Touch from the {face} side"
    return Slot({"face": face}, f"{name} {index + 1}/{count}", prompt, "top" if face == "top" else face[1])


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
