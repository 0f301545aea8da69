"""Setter calibration: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.figures.tool import master_beside_pad
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant, as_before, asked_face
from nonna.procedures.setter_calibration import LISTED
from nonna.procedures.setter_calibration.evaluate import evaluate
from nonna.procedures.setter_calibration.model import SetterReadings
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.procedures.touching import Touching
from nonna.wording.lengths import Units, length

TOP_TOUCHES, SIDE_TOUCHES = 3, 2


def free_axes(facts: SheetFacts) -> tuple[str, ...]:
    """Return the axes along which the middle can be found: both sides free, and the master's diameter known."""
    if facts.variant in ("spindle-face", "block") or not facts.master("master").number("diameter_mm"):
        return ()
    return tuple(axis for axis in "xy" if {f"+{axis}", f"-{axis}"} <= set(facts.sides))


def _slot(face: str, index: int, count: int, name: str) -> Slot:
    prompt = "Touch the top" if face == "top" else f"Touch from the {face} side"
    return Slot({"face": face}, f"{name} {index + 1}/{count}", prompt, "top" if face == "top" else face[1])


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches on top, then two on each face that can be touched; only the top for spindle face and block."""
    top = [_slot("top", i, TOP_TOUCHES, "Top") for i in range(TOP_TOUCHES)]
    faces = [f"{sign}{axis}" for axis in free_axes(facts) for sign in "+-"]
    return tuple(top + [_slot(f, i, SIDE_TOUCHES, f) for f in faces for i in range(SIDE_TOUCHES)])


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if facts.variant == "spindle-face":
        return (
            Step("Take every tool out; wipe spindle face and pad"),
            Step("Is the nose open in its middle, wider than the pad? Then bring its ring over the pad, not its axis"),
            Step("Bring the bare spindle face down on the pad, slowly", "top"),
            Step("Sign"),
        )
    if facts.variant == "block":
        return (
            Step("Wipe block, pad and spindle face"),
            Step("Stand the block on the pad; bring the bare spindle face down to it", "top"),
            Step("Sign"),
        )
    return (
        Step("Wipe taper, master and pad"),
        Step("Seat the master; spindle stopped"),
        Step("Touch the top three times", "top"),
        *(Step(f"Touch both {axis.upper()} faces", axis) for axis in free_axes(facts)),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """The plane and centre known before, plus what the master adds."""
    known = as_before(SetterReadings, slot, readings, field)
    return known if known is not None else facts.about.get(str(slot.fields["face"]))


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The master over the pad, or at the side that is asked for, to scale."""
    master, asked = facts.master("master"), asked_face(slots(facts), readings)
    if asked not in ("", "top"):
        faces = [f"{sign}{axis}" for axis in free_axes(facts) for sign in "+-"]
        touched = {str(r.get("face")) for r in readings} - {asked}
        wide = master.number("diameter_mm") or 16.0
        return master_beside_pad(wide, facts.pad_width, asked, touched, faces, square=facts.pad_square)
    long = master.number("length_mm", 0.0)
    kind = "master" if facts.variant in ("", "master") else "block"
    plane = "trigger plane"
    if result is not None and any(q.name == "trigger_plane_mm" for q in result.quantities):
        plane = f"Z {length(result.quantity('trigger_plane_mm').value, units, unit=False)}"
    title = {"master": "Master over the setter, its length at 20 °C", "block": "Block under the spindle face"}[kind]
    if long == 0.0:
        title = "Spindle face over the setter"
    return over_setter(
        title, kind, master.number("diameter_mm") or (30.0 if kind == "block" else 16.0), long,
        pad=facts.pad_width, gap=0.0 if readings else 12.0, plane=plane,
        length_words=length(long, units),
    )  # fmt: skip


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


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "setter-faces"},
    touching={"": Touching("Setter calibration", "master", face="face")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=SetterReadings,
    main=("trigger_plane_mm",),
    main_title="Trigger plane",
    offered={"limit_range_mm": 0.004, "school": "absolute"},
    needs=REPEATABILITY,
    master_kinds=("master-tool", "spindle-face", "block"),
    variants=(
        Variant("master", "Master tool"),
        Variant("spindle-face", "Spindle face"),
        Variant("block", "Block under the spindle face"),
    ),
    variant_of_master=True,
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "The machine's manual and your shop's rules come first.",
    ),
)
