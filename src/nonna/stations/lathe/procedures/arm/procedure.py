"""Arm calibration: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import arm_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, asked_face
from nonna.procedures.sheet import REPEATABILITY, Procedure, with_doubt
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.arm import LISTED
from nonna.stations.lathe.procedures.arm.evaluate import evaluate
from nonna.stations.lathe.procedures.arm.model import FACES, PLANES, ArmReadings
from nonna.wording.lengths import Units

TOUCHES = 2


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Each face twice."""
    shows = facts.setup.word("x_shows", "diameter")
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


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Turret away, no tool in its way: swing the arm out; wipe stylus and reference tip"),
        Step("Reference tip on the +X side, touch towards the axis", "+x"),
        Step("On the -X side, as far as it reaches", "-x"),
        Step("On the +Z side, towards the chuck", "+z"),
        Step("On the -Z side", "-z"),
        Step("The second touch of each face after swinging in and out again: that is what scatters"),
        Step("Sign, swing the arm in"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The arm's stylus with the faces that were touched."""
    widths = {q.name[6]: q.value for q in result.quantities if q.name.startswith("width_")} if result else {}
    return arm_figure({str(r["face"]) for r in readings}, widths, units, asked_face(slots(facts), readings))


SENTENCES = {
    "found": "{count} faces found, the first ± {U:small}. Touches of one face agree within {range:small}.",
    "pass": "Sign it, swing the arm in, then set the tips.",
    "none": "Sign it, swing the arm in, then set the tips.",
    "fail": "Swing the arm in and out, wipe its stylus and the tip, and touch again: a chip, or it does not seat.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "arm-faces"},
    steps=steps,
    figure=figure,
    model=ArmReadings,
    main=tuple(f"{name}_mm" for name in PLANES.values()),
    main_title="Plane +X",
    any_main=True,
    offered={"x_shows": "diameter", "limit_range_mm": 0.005, "resolution_mm": 0.001},
    needs=(
        *REPEATABILITY,
        *with_doubt("reference_x", "reference.x", "reference"),
        *with_doubt("reference_z", "reference.z", "reference"),
    ),
    caution=Caution(
        "Room for the arm first",
        "Turret away, no tool in the arm's way, spindle stopped, doors shut. Arm out, and see that it is out, before "
        "the "
        "turret comes back. Rapid turned down, a finger on feed hold.",
    ),
)
