"""The swing-arm setter: planes of its faces and what lies between them, with the reference tool."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import arm_figure
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, carried
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.stations.lathe.axes import carried_value, enter_shown
from nonna.wording.lengths import Units

Face = Literal["+x", "-x", "+z", "-z"]
FACES: tuple[Face, ...] = ("+x", "-x", "+z", "-z")
PLANES = {"+x": "plane_plus_x", "-x": "plane_minus_x", "+z": "plane_plus_z", "-z": "plane_minus_z"}
TOUCHES = 2
said = saying("lathe-arm")
SENTENCES = {
    "found": "{count} faces found, the first ± {U:small}. Touches of one face agree within {range:small}.",
    "pass": "Sign it, swing the arm in, then set the tips.",
    "none": "Sign it, swing the arm in, then set the tips.",
    "fail": "Swing the arm in and out, wipe its stylus and the tip, and touch again: a chip, or it does not seat.",
}


class ArmSetup(Setup):
    """Setup of an arm calibration."""

    x_shows: XShows = x_shows()
    reference_x_mm: Number | None = asked("X offset of the reference tool", help="From its test cut.", default=None)
    reference_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_x_dof: Dof | None = carried_dof()
    reference_z_mm: Number | None = asked("Z offset of the reference tool", help="From its test cut.", default=None)
    reference_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_z_dof: Dof | None = carried_dof()
    limit_range_mm: NotNegative | None = asked(
        "Touches of one face agree within", help="Real millimetres.", default=None, limit=True
    )


class ArmTouch(Strict):
    """Machine position when a face triggered; named by the side the tip stands on."""

    face: Face
    position_mm: Number


class ArmReadings(ReadingsFile):
    """Readings file of an arm calibration."""

    procedure: Literal["lathe-arm"]
    setup: ArmSetup
    readings: list[ArmTouch]


class ArmCalibration(Procedure):
    """``plane = mean + reference offset`` of each face; widths free of the reference's doubt."""

    name = "lathe-arm"
    sentences = SENTENCES
    model = ArmReadings
    main = tuple(f"{name}_mm" for name in PLANES.values())
    main_title = "Plane +X"
    any_main = True
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "limit_range_mm": 0.005, "resolution_mm": 0.001}
    carries = (
        *REPEATABILITY,
        *carried("reference_x", "lathe-offset-cut", "offset_x_mm", "reference", any_way=True),
        *carried("reference_z", "lathe-offset-cut", "offset_z_mm", "reference", any_way=True),
    )
    caution = Caution(
        "Room for the arm first",
        "Turret away, no tool in the arm's way, spindle stopped, doors shut. Arm out, and see that it is out, before the "
        "turret comes back. Rapid turned down, a finger on feed hold.",
    )

    def _evaluate(self, file: ArmReadings) -> Evaluation:
        setup = file.setup
        faces: dict[str, list[float]] = {
            face: [r.position_mm for r in file.readings if r.face == face] for face in FACES
        }
        faces = {face: values for face, values in faces.items() if values}
        if not faces:
            raise TooFewReadingsError("No face was touched yet.")
        influences = Influences()
        by_axis = {axis: {f: v for f, v in faces.items() if f[1] == axis} for axis in "xz"}
        shown = enter_shown({axis: own for axis, own in by_axis.items() if own}, setup.x_shows, setup, influences)
        references = {
            axis: carried_value(setup, influences, f"reference_{axis}", f"reference tool in {axis.upper()}")
            for axis, own in by_axis.items() if own
        }  # fmt: skip
        quantities = [
            Quantity.of(f"{PLANES[face]}_mm", f"Plane {face[0]}{as_shown(face[1], setup.x_shows)}", influences.estimate(shown.means[face] + references[face[1]]))
            for face in faces
        ]  # fmt: skip
        uneven = False
        for axis in "xz":
            plus, minus = shown.means.get(f"+{axis}"), shown.means.get(f"-{axis}")
            if plus is None or minus is None:
                continue
            uneven = uneven or len(faces[f"+{axis}"]) != len(faces[f"-{axis}"])
            width = influences.estimate(real_per_shown(axis, setup.x_shows) * (plus - minus))
            quantities.append(Quantity.of(f"width_{axis}_mm", f"Width in {axis.upper()}", width))
        spread = max(
            (max(values) - min(values)) * real_per_shown(face[1], setup.x_shows) for face, values in faces.items()
        )
        quantities.append(Quantity("range_mm", "Range of one face", spread))
        checks: tuple[Check, ...] = ()
        if setup.limit_range_mm is not None:
            checks = (check_limit("Range of one face", spread, setup.limit_range_mm, file.rule.rule(), of="range_mm"),)
        first = quantities[0].estimate
        found = said("found", count=len(faces), U=first.expanded if first else 0.0, range=spread)
        flags = (*shown.flags, *(("unequal-sides",) if uneven else ()))
        verdict = checks[0].verdict if checks else "none"
        return Evaluation(file.procedure, tuple(quantities), file.rule.rule(), found, said(str(verdict)), checks, flags)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Each face twice."""
        shows = bench.setup.word("x_shows", "diameter")
        return tuple(
            Slot(
                {"face": face},
                f"{face} {i + 1}/{TOUCHES}",
                f"Tip on the {face} side of the stylus: {as_shown(face[1], shows)}",
                face,
            )
            for face in FACES
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Turret away, no tool in its way: swing the arm out; wipe stylus and reference tip"),
            Step("Reference tip on the +X side, touch towards the axis", "+x"),
            Step("On the -X side, as far as it reaches", "-x"),
            Step("On the +Z side, towards the chuck", "+z"),
            Step("On the -Z side", "-z"),
            Step("The second touch of each face after swinging in and out again: that is what scatters"),
            Step("Sign, swing the arm in"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The arm's stylus with the faces that were touched."""
        widths = {q.name[6]: q.value for q in result.quantities if q.name.startswith("width_")} if result else {}
        return arm_figure({str(r["face"]) for r in readings}, widths, units, self.asked_face(bench, readings))
