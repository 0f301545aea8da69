"""Setter calibration: what the hands do."""

from __future__ import annotations

from nonna.procedures.setter_calibration.model import SetterReadings
from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before

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
