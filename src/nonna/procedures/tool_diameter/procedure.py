"""Tool diameter: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.tool import beside_pad
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant, asked_face
from nonna.procedures.sheet import REPEATABILITY, Procedure, with_doubt
from nonna.procedures.tool_diameter import LISTED
from nonna.procedures.tool_diameter.evaluate import evaluate
from nonna.procedures.tool_diameter.model import FACES, DiameterReadings
from nonna.wording.lengths import Units

TOUCHES = 2


def settled(facts: SheetFacts) -> SheetFacts:
    """Touch where the setter's sides are free, as long as nobody chose another way than the usual one."""
    if facts.variant not in ("", "both") or {"+x", "-x"} <= set(facts.sides):
        return facts
    free = (way for way, faces in FACES.items() if set(faces) <= set(facts.sides))
    return replace(facts, variant=next(free, facts.variant))


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Two touches a side."""
    faces = FACES[facts.variant or "both"]
    return tuple(
        Slot({"face": face}, f"{face} {i + 1}/{TOUCHES}", f"Touch from the {face} side", face)
        for face in faces
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    first, *others = FACES[facts.variant or "both"]
    blocked = [face for face in (first, *others) if face not in facts.sides]
    look = (Step(f"The setter's card says that {' and '.join(blocked)} is not free: look first"),) if blocked else ()
    return (
        *look,
        Step("Clear chips off the edges and the setter; doors shut"),
        Step(f"Turning backwards: touch from the {first} side", first),
        *(Step(f"Touch from the {face} side", face) for face in others),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool beside the pad, from above, to scale."""
    wide = facts.tool_diameter if result is None else result.quantity("diameter_mm").value
    sides = {str(r["face"]) for r in readings}
    faces = FACES[facts.variant or "both"]
    return beside_pad(
        wide,
        facts.pad_width,
        sides,
        faces=faces,
        known=result is not None,
        units=units,
        asked=asked_face(slots(facts), readings),
    )


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


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    steps=steps,
    figure=figure,
    settled=settled,
    model=DiameterReadings,
    main=("diameter_mm",),
    main_title="Diameter",
    offered={"limit_mm": 0.02},
    variants=(
        Variant("both", "From both sides in X"),
        Variant("one", "From one side in X"),
        Variant("both-y", "From both sides in Y"),
        Variant("one-y", "From one side in Y"),
        Variant("four", "From all four sides"),
    ),
    needs=(
        *REPEATABILITY,
        *with_doubt("setter_width", offers.SETTER_WIDTH_X, "setter", ("both", "one", "four")),
        *with_doubt("setter_centre", offers.SETTER_CENTRE_X, "setter", ("one",)),
        *with_doubt("setter_width_y", offers.SETTER_WIDTH_Y, "setter", ("both-y", "one-y", "four")),
        *with_doubt("setter_centre_y", offers.SETTER_CENTRE_Y, "setter", ("one-y",)),
    ),
    caution=Caution(
        "It turns, backwards and slowly",
        "Doors shut, nobody inside, rapid turned down, a finger on feed hold. Turning forwards would cut the setter.",
    ),
)
