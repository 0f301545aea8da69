"""Part on the lathe: what the hands do."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures.sheet import SheetFacts, Slot, Step
from nonna.procedures.shown import as_shown
from nonna.shop.texts.given import Given, Plain
from nonna.stations.lathe.procedures.measure.model import TOUCHES

_ONE_PROCESS = ("tool", "feature", "side", "axis", "nominal_mm", "x_shows")  #: what parts of one process have alike


def _with_earlier(facts: SheetFacts, parts: list[Plain]) -> SheetFacts:
    setup = {name: value for name, value in facts.setup.items() if name != "earlier"}
    return replace(facts, setup=Given({**setup, "earlier": parts} if parts else setup))


def settled(facts: SheetFacts) -> SheetFacts:
    """Fill in the parts of the same process: the same tool, feature and size, back to one that was a stop."""
    setup = facts.setup
    if not facts.past:
        return facts  # the book has none: what a file brought stays
    if not setup.word("tool"):
        return _with_earlier(facts, [])
    one = [setup.get(name) for name in _ONE_PROCESS]
    parts: list[Plain] = []
    for each in facts.past:
        if [each.get(name) for name in _ONE_PROCESS] != one:
            continue
        if each.word("state") == "stop":
            break
        parts.append({"error_mm": each["error_mm"], "u_mm": each["u_mm"], "wear_mm": each.number("wear_mm", 0.0)})
    return _with_earlier(facts, parts[::-1])


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both sides, twice each."""
    feature = facts.setup.word("feature", "diameter")
    words = "face" if feature == "distance" else "side"
    axis = facts.setup.word("axis") or ("x" if feature == "diameter" else "z")
    named = as_shown(axis, facts.setup.word("x_shows"))
    return tuple(
        Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Touch the {at} {words}: {named}", at, on=axis)
        for at in ("+", "-")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Blow the part clean; probe in the turret"),
        Step("Touch the + side", "+"),
        Step("The - side", "-"),
        Step("Sign"),
    )
