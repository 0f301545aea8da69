"""Reference tool by test cut: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step

TOUCHES = 3  #: with two, what a display of 1 µm hides would be taken for a scatter of one degree of freedom


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """The diameter and the face, each three times."""
    del facts
    return tuple(
        Slot({"axis": axis}, f"{axis.upper()} {i + 1}/{TOUCHES}", prompt, axis)
        for axis, prompt in (("x", "Turned diameter, measured"), ("z", "Where the face lies"))
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Doors shut, full chuck pressure: turn a short step, note machine X (F9), leave X where it is"),
        Step("Spindle stopped: measure the diameter three times, turned a third each time", "x"),
        Step("Face lightly, note machine Z (F9); measure where the face lies, three times", "z"),
        Step("Sign"),
    )
