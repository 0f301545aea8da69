"""A tip on the arm's faces: its offset, and what changed against the last one."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any, ClassVar, Literal

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import tip_figure
from nonna.metrology.decision import worst
from nonna.metrology.uncertain import Influences, Uncertain, value_of
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u, require
from nonna.procedures.sheet import REPEATABILITY, Bench, Carry, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.shown import XShows, as_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.stations.lathe.axes import carried_value, enter_shown, plain_or_uncertain
from nonna.stations.lathe.ways import WAYS, way_of
from nonna.wording.lengths import Units

AXES: tuple[Literal["x", "z"], ...] = ("x", "z")
FLANKS = {"+z", "-z"}
TOUCHES = 2
_PLANES = {"+x": "plane_plus_x_mm", "-x": "plane_minus_x_mm", "+z": "plane_plus_z_mm", "-z": "plane_minus_z_mm"}

said = saying("lathe-tip")
SENTENCES = {
    "offset": "{axis} offset {value:length}, ± {U:small}.",
    "plain": "{axis} offset {value:length}, taken from the centre line.",
    "change": "{axis} changed by {d:signed} against the last offset.",
    "pass": "Sign it and load the offset.",
    "none": "Sign it and load the offset.",
    "flank": "Z is the tool's axis, half way between its flanks; across them it is {width:length}.",
    "fail": "Too much for a change: is it the right insert or tool, does it sit flat, is the seat clean? Then touch again.",
    "undecided": "Touch it once more.",
}


class TipSetup(Setup):
    """Setup of a tip."""

    x_shows: XShows = x_shows()
    plane_x_mm: Number | None = asked("Arm's plane in X", help="Of the face this tip touches.", default=None)
    plane_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_x_dof: Dof | None = carried_dof()
    plane_z_mm: Number | None = asked("Arm's plane in Z", help="Of the face this tip touches.", default=None)
    plane_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_z_dof: Dof | None = carried_dof()
    plane_minus_z_mm: Number | None = asked(
        "Arm's plane on -z", help="Of a driven tool touched on both flanks; the other is then that on +z.", default=None
    )
    plane_minus_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    plane_minus_z_dof: Dof | None = carried_dof()
    centre_line_x_mm: Number | None = asked(
        "Centre line in X", help="For a drill, instead of touching in X.", default=None
    )
    centre_line_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_line_x_dof: Dof | None = carried_dof()
    expected_x_mm: Number | None = asked("Last X offset", help="What the table holds.", default=None)
    expected_x_u_mm: NotNegative = carried_u(
        "Its standard uncertainty", help="Without the plane's where it is the same plane."
    )
    expected_x_dof: Dof | None = carried_dof()
    expected_z_mm: Number | None = asked("Last Z offset", help="What the table holds.", default=None)
    expected_z_u_mm: NotNegative = carried_u(
        "Its standard uncertainty", help="Without the plane's where it is the same plane."
    )
    expected_z_dof: Dof | None = carried_dof()
    same_plane: bool = asked("On the same plane as then", "", "Then its doubt cancels in the change.", True)
    limit_mm: NotNegative | None = asked("Largest change", help="Against the last offset.", default=None, limit=True)


class TipTouch(Strict):
    """Machine position when the arm triggered; the face, where both flanks are touched."""

    axis: Literal["x", "z"]
    face: Literal["+z", "-z"] | None = None
    position_mm: Number


class TipReadings(ReadingsFile):
    """Readings file of a tip."""

    procedure: Literal["lathe-tip"]
    setup: TipSetup
    readings: list[TipTouch]


class LatheTip(Procedure):
    """``offset = plane - mean``; a drill's X is the turret's centre line, Z of a tool touched on both flanks its axis."""

    name = "lathe-tip"
    sentences = SENTENCES
    model = TipReadings
    main = ("offset_z_mm", "offset_x_mm")
    main_title = "Z offset"
    any_main = True
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "limit_mm": 0.1, "resolution_mm": 0.001}
    variants = tuple(Variant(key, way.words) for key, way in WAYS.items())
    carries = (
        *REPEATABILITY,
        *(
            each
            for name, at, faces in (("plane_x", "x_face", ("+x", "-x")), ("plane_z", "z_face", ("+z", "-z")), ("plane_minus_z", "other_flank", ("-z",)))
            for face in faces
            for each in carried(
                name, "lathe-arm", _PLANES[face], "arm", tuple(key for key, way in WAYS.items() if getattr(way, at) == face)
            )
        ),
        *carried(
            "centre_line_x", "lathe-centre", "centre_line_x_mm", "centre", tuple(key for key, way in WAYS.items() if way.on_centre_line),
            needed=False,
        ),
        *(
            Carry(f"expected_{axis}_mm", "lathe-tip", f"offset_{axis}_mm", "value", "tips", same_subject=True, needed=False)
            for axis in AXES
        ),
    )  # fmt: skip
    caution = Caution(
        "A few millimetres off, diagonal, before the touch",
        "Arm out and seen to be out, spindle stopped, doors shut, rapid turned down, a finger on feed hold. "
        "Check that the axis you are about to move is the one asked for.",
    )

    def _evaluate(self, file: TipReadings) -> Evaluation:
        setup, rule = file.setup, file.rule.rule()
        touched = _touched(file.readings, flanks=setup.plane_minus_z_mm is not None)
        if not touched:
            raise TooFewReadingsError("Nothing was touched yet.")
        influences = Influences()
        shown = enter_shown(touched, setup.x_shows, setup, influences)
        bases: dict[str, tuple[Uncertain, Uncertain]] = {}  #: what the offset rests on, and the touches themselves
        for axis in touched:
            if axis in shown.means:
                plane = carried_value(setup, influences, f"plane_{axis}", f"arm's plane in {axis.upper()}")
                bases[axis] = (plane, -shown.means[axis])
        flanks = _flanks(setup, shown.means, influences) if FLANKS & shown.means.keys() else None
        if flanks is not None:
            bases["z"] = flanks[0]
        if "x" not in touched and setup.centre_line_x_mm is not None:
            bases["x"] = (setup.enter(influences, "centre_line_x", "turret's centre line"), 0.0)
        quantities: list[Quantity] = []
        checks: list[Check] = []
        told: list[Reason] = []
        for axis in AXES:
            if axis not in bases:
                continue
            title = as_shown(axis, setup.x_shows)
            offset = plain_or_uncertain(f"offset_{axis}_mm", f"{title} offset", sum(bases[axis]), influences)
            quantities.append(offset)
            doubt = {"U": offset.estimate.expanded} if offset.estimate else {}
            told.append(said("offset" if doubt else "plain", axis=title, value=offset.value, **doubt))
            expected: float | None = getattr(setup, f"expected_{axis}_mm")
            if setup.limit_mm is not None:
                require(expected, f"setup.expected_{axis}_mm")
            if expected is None:
                continue
            change = _change(setup, axis, bases[axis], influences)
            quantities.append(change)
            told.append(said("change", axis=title, d=change.value))
            if setup.limit_mm is not None:
                checks.append(
                    check_limit(f"{title}: change", change.value, setup.limit_mm, rule, change.estimate, of=change.name)
                )
        if flanks is not None:
            told.append(said("flank", width=flanks[1]))
        return Evaluation(
            file.procedure, tuple(quantities), rule, told[0], said(str(worst(c.verdict for c in checks))), tuple(checks),
            shown.flags, tuple(told[1:]),
        )  # fmt: skip

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Each face its edges look at, twice."""
        way, shows = way_of(bench.variant), bench.setup.word("x_shows", "diameter")
        rows = [(face, face if way.other_flank and face in FLANKS else face[1]) for face in way.faces]
        return tuple(
            Slot(
                {"axis": face[1], "face": face} if group == face else {"axis": face[1]}, f"{group.upper()} {i + 1}/{TOUCHES}",
                f"Touch the arm's {face} face: {as_shown(face[1], shows)}", group,
            )
            for face, group in rows
            for i in range(TOUCHES)
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        way = way_of(bench.variant)
        touches = [
            Step(
                f"A few millimetres off the {face} face; then {face[1].upper()} alone, slowly",
                face if way.other_flank and face in FLANKS else face[1],
            )
            for face in way.faces
        ]
        tooth = Step(
            "Drive stopped and locked out: by hand turn a tooth to the face, the same one for each touch of it"
        )
        again = Step("The second touch of a face after swinging the arm in and out again: that is what scatters")
        return (
            Step("Arm out; wipe tip and stylus; choose which way it cuts (F9)"),
            *((tooth,) if way.turns else ()),
            *touches,
            again,
            Step("Sign, arm in"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The tip over the arm with the faces its edges look at."""
        way = way_of(bench.variant)
        found = {q.title: q.value for q in result.quantities if q.name.startswith("offset")} if result else {}
        touched = {str(r.get("face") or r["axis"]) for r in readings}
        return tip_figure(way.words, way.faces, touched, found, units, way.shape)


def _touched(readings: Sequence[TipTouch], *, flanks: bool) -> dict[str, dict[str, list[float]]]:
    """Return positions by axis and, there, by flank.

    Parameters: flanks, whether Z is the tool's axis: a touch that does not say its flank would be off by half a cutter.
    Raises: NonnaError (it does not).
    """
    found: dict[str, dict[str, list[float]]] = {}
    both = flanks or any(r.face for r in readings)
    for i, touch in enumerate(readings):
        where = f"readings[{i}].face"
        if touch.face and touch.axis == "x":
            raise NonnaError("unknown-field", "{place}: flanks are touched in Z.", where, place=where)
        if both and touch.axis == "z" and touch.face is None:
            raise NonnaError(
                "missing-field",
                "{place}: say which flank, +z or -z. Where a file cannot say it, touch the tool on its sheet.",
                where,
                place=where,
            )
        found.setdefault(touch.axis, {}).setdefault(touch.face or touch.axis, []).append(touch.position_mm)
    return found


def _flanks(
    setup: TipSetup, means: Mapping[str, Uncertain], influences: Influences
) -> tuple[tuple[Uncertain, Uncertain], float]:
    """Return what Z of a tool's axis rests on with the touches of its flanks, and how far those are apart (mm).

    Both planes hang on one reference tool: their errors go together, as one source with the lesser freedom.
    """
    if not means.keys() >= FLANKS:
        raise TooFewReadingsError("Touch both flanks: the tool's axis is half way between them.")
    planes = [require(getattr(setup, f"{name}_mm"), f"setup.{name}_mm") for name in ("plane_z", "plane_minus_z")]
    dofs = [math.inf if dof is None else dof for dof in (setup.plane_z_dof, setup.plane_minus_z_dof)]
    doubt = (setup.plane_z_u_mm + setup.plane_minus_z_u_mm) / 2.0
    plane = influences.add("arm's planes in Z", sum(planes) / 2.0, doubt, min(dofs), field="setup.plane_z_mm")
    apart = value_of(means["+z"]) - value_of(means["-z"]) - (planes[0] - planes[1])
    return (plane, (means["+z"] + means["-z"]) / -2.0), float(apart)


def _change(setup: TipSetup, axis: str, base: tuple[Uncertain, Uncertain], influences: Influences) -> Quantity:
    """Return offset less the last one; what both rest on cancels where it is the same."""
    rests_on, touches = base
    last = setup.enter(influences, f"expected_{axis}", f"last {axis.upper()} offset")
    kept = float(value_of(rests_on)) if setup.same_plane else rests_on
    return plain_or_uncertain(
        f"change_{axis}_mm", f"{as_shown(axis, setup.x_shows)} changed by", kept + touches - last, influences
    )
