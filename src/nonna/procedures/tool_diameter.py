"""Tool diameter: a tool's edges touched on the faces of a calibrated setter, from both sides or from one."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.tool import beside_pad
from nonna.metrology.decision import Verdict
from nonna.metrology.means import by_axis, enter_by_axis
from nonna.metrology.scatter import scatter_by_axis
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u, require
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.telling import saying
from nonna.procedures.turning import TurningSetup, enter_late
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

TOUCHES = 2
_FROM_SETTER = "From the setter calibration; needed where faces of this axis are touched."
_ONE_SIDE = "Needed when one side only is touched."

said = saying("tool-diameter")
SENTENCES = {
    "found-none": "Diameter {d:length}, ± {U:small}.",
    "change-none": (_CHANGE := "Diameter {d:length}, {change:signed} against the table."),
    "change-pass": _CHANGE + " That is within {limit:small}.",
    "change-fail": _CHANGE + " That is over {limit:small}.",
    "change-undecided": _CHANGE + " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    "pass": "Sign it to take it over.",
    "none": "Sign it to take it over.",
    "fail": "Is it the right tool, the inserts seated? If so, sign it and tell the next shift.",
    "undecided": "Touch it again from both sides.",
}


class DiameterSetup(TurningSetup):
    """Setup of a tool diameter."""

    limit_mm: NotNegative | None = asked(
        "Largest difference", help="The diameter may differ this much from the table.", default=None, limit=True
    )
    expected_mm: Number | None = asked("Diameter in the table", help="What the table holds now.", default=None)
    setter_width_mm: Number | None = asked("Setter's effective width in X", help=_FROM_SETTER, default=None)
    setter_width_u_mm: NotNegative = carried_u("Width's standard uncertainty")
    setter_width_dof: Dof | None = carried_dof()
    setter_centre_mm: Number | None = asked("Setter's centre in X", help=_ONE_SIDE, default=None)
    setter_centre_u_mm: NotNegative = carried_u("Centre's standard uncertainty")
    setter_centre_dof: Dof | None = carried_dof()
    setter_width_y_mm: Number | None = asked("Setter's effective width in Y", help=_FROM_SETTER, default=None)
    setter_width_y_u_mm: NotNegative = carried_u("Width's standard uncertainty in Y")
    setter_width_y_dof: Dof | None = carried_dof()
    setter_centre_y_mm: Number | None = asked("Setter's centre in Y", help=_ONE_SIDE, default=None)
    setter_centre_y_u_mm: NotNegative = carried_u("Centre's standard uncertainty in Y")
    setter_centre_y_dof: Dof | None = carried_dof()


class SideReading(Strict):
    """X or Y of the spindle axis at one trigger."""

    face: Literal["+x", "-x", "+y", "-y"]
    position_mm: Number


class DiameterReadings(ReadingsFile):
    """Readings file of a tool diameter."""

    procedure: Literal["tool-diameter"]
    setup: DiameterSetup
    readings: list[SideReading]


class ToolDiameter(Procedure):
    """``D = (x+ - x-) - width + 2 l``; from one side ``D = 2 (|x - centre| - width / 2 + l)``; Y alike, both: the mean.

    ``l`` is by how much a turning tool is touched late.
    """

    name = "tool-diameter"
    sentences = SENTENCES
    model = DiameterReadings
    main = ("diameter_mm",)
    main_title = "Diameter"
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.02}
    variants = (
        Variant("both", "From both sides in X"),
        Variant("one", "From one side in X"),
        Variant("both-y", "From both sides in Y"),
        Variant("one-y", "From one side in Y"),
        Variant("four", "From all four sides"),
    )
    carries = (
        *REPEATABILITY,
        *carried("setter_width", "setter-calibration", "width_x_mm", "setter", ("both", "one", "four")),
        *carried("setter_centre", "setter-calibration", "centre_x_mm", "setter", ("one",)),
        *carried("setter_width_y", "setter-calibration", "width_y_mm", "setter", ("both-y", "one-y", "four")),
        *carried("setter_centre_y", "setter-calibration", "centre_y_mm", "setter", ("one-y",)),
    )
    caution = Caution(
        "It turns, backwards and slowly",
        "Doors shut, nobody inside, rapid turned down, a finger on feed hold. Turning forwards would cut the setter.",
    )

    def _evaluate(self, file: DiameterReadings) -> Evaluation:
        setup, late = file.setup, file.setup.lateness()
        groups: dict[str, list[float]] = {}
        for reading in file.readings:
            groups.setdefault(reading.face, []).append(reading.position_mm)
        axes = [a for a in "xy" if any(face[1] == a for face in groups)] or ["x"]
        for axis in axes:
            name = f"setter_width{_END[axis]}_mm"
            require(getattr(setup, name), f"setup.{name}")
        if not groups:
            raise TooFewReadingsError("No touch was taken yet.")
        if setup.limit_mm is not None:
            require(setup.expected_mm, "setup.expected_mm")
        along = by_axis(groups)
        touch = scatter_by_axis(along, **setup.history(), extra_s=late.touch_s)
        influences = Influences()
        means = enter_by_axis(along, touch, influences)
        beyond = enter_late(late, influences)  # the same edges meet every face
        widths = _widths(setup, influences, axes)
        across = [_across(axis, means, widths[axis], beyond, setup, influences) for axis in axes]
        estimate = influences.estimate(sum(across) / len(across))
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        facts = {"d": estimate.value, "U": estimate.expanded, "limit": setup.limit_mm or 0.0}
        found = "found"
        if setup.expected_mm is not None:
            facts["change"], found = estimate.value - setup.expected_mm, "change"
            if setup.limit_mm is not None:
                checks = (check_limit("Change against the table", facts["change"], setup.limit_mm, rule, estimate),)
        verdict = checks[0].verdict if checks else Verdict.NONE
        return Evaluation(
            file.procedure,
            (Quantity.of("diameter_mm", "Diameter", estimate),),
            rule,
            said(f"{found}-{verdict}", **facts),
            said(str(verdict)),
            checks,
            touch.flags,
        )

    def settled(self, bench: Bench) -> Bench:
        """Touch where the setter's sides are free, as long as nobody chose another way than the usual one."""
        if bench.variant not in ("", "both") or {"+x", "-x"} <= set(bench.sides):
            return bench
        free = (way for way, faces in _FACES.items() if set(faces) <= set(bench.sides))
        return replace(bench, variant=next(free, bench.variant))

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Two touches a side."""
        faces = _FACES[bench.variant or "both"]
        return tuple(
            Slot({"face": face}, f"{face} {i + 1}/{TOUCHES}", f"Touch from the {face} side", face)
            for face in faces
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        first, *others = _FACES[bench.variant or "both"]
        blocked = [face for face in (first, *others) if face not in bench.sides]
        look = (
            (Step(f"The setter's card says that {' and '.join(blocked)} is not free: look first"),) if blocked else ()
        )
        return (
            *look,
            Step("Clear chips off the edges and the setter; doors shut"),
            Step(f"Turning backwards: touch from the {first} side", first),
            *(Step(f"Touch from the {face} side", face) for face in others),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tool beside the pad, from above, to scale."""
        wide = bench.tool_diameter if result is None else result.quantity("diameter_mm").value
        sides = {r["face"] for r in readings}
        faces = _FACES[bench.variant or "both"]
        return beside_pad(
            wide,
            bench.pad_width,
            sides,
            faces=faces,
            known=result is not None,
            units=units,
            asked=self.asked_face(bench, readings),
        )


_END = {"x": "", "y": "_y"}  # how the setup names an axis
_FACES = {
    "both": ("+x", "-x"), "one": ("+x",), "both-y": ("+y", "-y"), "one-y": ("+y",), "four": ("+x", "-x", "+y", "-y"),
}  # fmt: skip


def way_of(readings: Sequence[Mapping[str, Any]]) -> str:
    """Return the way of doing it that touches the faces of these readings."""
    faces = {str(r["face"]) for r in readings}
    return next((way for way, wanted in _FACES.items() if set(wanted) == faces), _one_sided(faces))


def _one_sided(faces: set[str]) -> str:
    axes = {face[1] for face in faces}
    return "four" if len(axes) == 2 else "one-y" if axes == {"y"} else "one"


def _widths(setup: DiameterSetup, influences: Influences, axes: Sequence[str]) -> dict[str, Uncertain]:
    """Return the setter's width by axis; two of them come from one master, so their errors go together."""
    if len(axes) == 1:
        name = f"setter_width{_END[axes[0]]}"
        return {axes[0]: setup.enter(influences, name, "setter's width")}
    dofs = [math.inf if dof is None else dof for dof in (setup.setter_width_dof, setup.setter_width_y_dof)]
    one = influences.add("setter's width", 0.0, 1.0, min(dofs), field="setup.setter_width_mm")
    return {
        "x": (setup.setter_width_mm or 0.0) + setup.setter_width_u_mm * one,
        "y": (setup.setter_width_y_mm or 0.0) + setup.setter_width_y_u_mm * one,
    }


def _across(
    axis: str,
    means: Mapping[str, Uncertain],
    width: Uncertain,
    late: Uncertain,
    setup: DiameterSetup,
    influences: Influences,
) -> Uncertain:
    """Return the diameter along one axis, from both of its faces or from one. Raises: NonnaError (no centre)."""
    plus, minus = means.get(f"+{axis}"), means.get(f"-{axis}")
    if plus is not None and minus is not None:
        return plus - minus - width + 2.0 * late
    name = f"setter_centre{_END[axis]}"
    require(getattr(setup, f"{name}_mm"), f"setup.{name}_mm")
    centre = setup.enter(influences, name, "setter's centre")
    reach = plus - centre if plus is not None else centre - minus
    return 2.0 * (reach - width / 2.0 + late)
