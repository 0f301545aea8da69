"""Tip on the arm: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import tip_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.sheet import REPEATABILITY, Need, Procedure, with_doubt
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.tip import LISTED
from nonna.stations.lathe.procedures.tip.evaluate import evaluate
from nonna.stations.lathe.procedures.tip.model import AXES, FLANKS, TipReadings
from nonna.stations.lathe.ways import WAYS, way_of
from nonna.wording.lengths import Units

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Each face its edges look at, twice."""
    way, shows = way_of(facts.variant), facts.setup.word("x_shows", "diameter")
    rows = [(face, face if way.other_flank and face in FLANKS else face[1]) for face in way.faces]
    return tuple(
        Slot(
            {"axis": face[1], "face": face} if group == face else {"axis": face[1]},
            f"{group.upper()} {i + 1}/{TOUCHES}",
            f"Touch the arm's {face} face: {as_shown(face[1], shows)}", group,
        )
        for face, group in rows
        for i in range(TOUCHES)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    way = way_of(facts.variant)
    touches = [
        Step(
            f"A few millimetres off the {face} face; then {face[1].upper()} alone, slowly",
            face if way.other_flank and face in FLANKS else face[1],
        )
        for face in way.faces
    ]
    tooth = Step("Drive stopped and locked out: by hand turn a tooth to the face, the same one for each touch of it")
    again = Step("The second touch of a face after swinging the arm in and out again: that is what scatters")
    return (
        Step("Arm out; wipe tip and stylus; choose which way it cuts (F9)"),
        *((tooth,) if way.turns else ()),
        *touches,
        again,
        Step("Sign, arm in"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tip over the arm with the faces its edges look at."""
    way = way_of(facts.variant)
    found = {q.title: q.value for q in result.quantities if q.name.startswith("offset")} if result else {}
    touched = {str(r.get("face") or r["axis"]) for r in readings}
    return tip_figure(way.words, way.faces, touched, found, units, way.shape)


_PLANES = {"+x": "arm.plus_x", "-x": "arm.minus_x", "+z": "arm.plus_z", "-z": "arm.minus_z"}


SENTENCES = {
    "offset": "{axis} offset {value:length}, ± {U:small}.",
    "plain": "{axis} offset {value:length}, taken from the centre line.",
    "change": "{axis} changed by {d:signed} against the last offset.",
    "pass": "Sign it and load the offset.",
    "none": "Sign it and load the offset.",
    "flank": "Z is the tool's axis, half way between its flanks; across them it is {width:length}.",
    "fail": "Too much for a change: is it the right insert or tool, does it sit flat, is the seat clean? Then touch "
    "again.",
    "undecided": "Touch it once more.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tip-on-arm"},
    steps=steps,
    figure=figure,
    model=TipReadings,
    main=("offset_z_mm", "offset_x_mm"),
    main_title="Z offset",
    any_main=True,
    offered={"x_shows": "diameter", "limit_mm": 0.1, "resolution_mm": 0.001},
    variants=tuple(Variant(key, way.words) for key, way in WAYS.items()),
    needs=(
        *REPEATABILITY,
        *(
            each
            for name, at, faces in (
                ("plane_x", "x_face", ("+x", "-x")),
                ("plane_z", "z_face", ("+z", "-z")),
                ("plane_minus_z", "other_flank", ("-z",)),
            )
            for face in faces
            for each in with_doubt(
                name,
                _PLANES[face],
                "arm",
                tuple(key for key, way in WAYS.items() if getattr(way, at) == face),
            )
        ),
        *with_doubt(
            "centre_line_x",
            "turret.centre-line",
            "centre",
            tuple(key for key, way in WAYS.items() if way.on_centre_line),
            needed=False,
        ),
        *(
            Need(
                f"expected_{axis}_mm",
                f"tip.offset_{axis}",
                "value",
                "tips",
                same_subject=True,
                needed=False,
            )
            for axis in AXES
        ),
    ),
    caution=Caution(
        "A few millimetres off, diagonal, before the touch",
        "Arm out and seen to be out, spindle stopped, doors shut, rapid turned down, a finger on feed hold. "
        "Check that the axis you are about to move is the one asked for.",
    ),
)
