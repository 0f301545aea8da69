"""Tool diameter: what the hands do."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.tool_diameter.model import FACES

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
