"""Tool length: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.setter import over_setter
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.sheet import PLANE, REPEATABILITY, Procedure
from nonna.procedures.tool_length import LISTED
from nonna.procedures.tool_length.evaluate import evaluate
from nonna.procedures.tool_length.model import ToolLengthReadings
from nonna.procedures.touching import Touching
from nonna.wording.lengths import Units, length

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches."""
    del facts
    return tuple(Slot({}, f"Touch {i + 1}/{TOUCHES}", "Touch the tip", "touch") for i in range(TOUCHES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the tip and the pad"),
        Step("Tool in the spindle, spindle stopped"),
        Step("Touch the tip three times", "touch"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """The length in the table above the trigger plane."""
    known = as_before(ToolLengthReadings, slot, readings, field)
    plane, table = facts.setup.number("trigger_plane_mm"), facts.setup.number("expected_mm")
    if known is not None or plane is None or table is None:
        return known
    return float(plane) + float(table)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The tool over the pad, to scale."""
    long = facts.setup.number("expected_mm") or 100.0
    words = f"table {length(long, units)}" if facts.setup.number("expected_mm") else "length not known"
    if result is not None:
        long = result.quantity("length_mm").value
        words = length(long, units)
    return over_setter(
        f"{facts.subject.words} over the setter", facts.tool_kind, facts.tool_diameter, long,
        pad=facts.pad_width, gap=0.0 if readings else 12.0, plane="trigger plane", length_words=words,
        known=result is not None or bool(facts.setup.number("expected_mm")),
    )  # fmt: skip


SENTENCES = {
    "found": "Length {length:length}, ± {U:small}.",
    "change": (_CHANGE := "Length {length:length}, {change:signed} against the table."),
    "change-pass": _CHANGE + " That is within {limit:small}.",
    "change-fail": _CHANGE + " That is over {limit:small}.",
    "change-undecided": _CHANGE + " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    "pass": "Sign it to take it over.",
    "fail": "Is it the right tool, well seated? If so, sign it and tell the next shift.",
    "undecided": "Touch it again, or sign it as it is.",
    "more-touches": "Touch it again: more touches lower the doubt most.",
    "slower-feed": "Touch it with less feed a turn: which edge is met first is most of the doubt.",
    "better-plane": "Calibrate the setter again: its trigger plane is most of the doubt.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tool-on-setter"},
    touching={"": Touching("Tool length", "tool")},
    steps=steps,
    figure=figure,
    own_expected=expected,
    model=ToolLengthReadings,
    main=("length_mm",),
    main_title="Length",
    offered={"limit_mm": 0.05},
    needs=(
        *REPEATABILITY,
        *PLANE,
    ),
    caution=Caution(
        "Hands clear while it moves",
        "Spindle stopped and confirmed, doors shut, rapid turned down, a finger on feed hold. "
        "Edges cut: wipe the tip with a brush, not a finger.",
    ),
)
