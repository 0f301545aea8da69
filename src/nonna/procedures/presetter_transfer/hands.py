"""Presetter transfer: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import SheetFacts, Slot, Step

TOOLS = 5


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Five tools, each on both; those that the records hold first."""
    tools = [*facts.named, *range(len(facts.named) + 1, TOOLS + 1)]
    return tuple(
        Slot({"tool": tool}, f"Tool {i}/{len(tools)}", "Length on the presetter", "tools", ("Length on the machine",))
        for i, tool in enumerate(tools, 1)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Choose tools from the shortest to the longest in use; wipe tapers"),
        Step("Each on the presetter, then on the machine's own setter", "tools"),
        Step("Sign"),
    )
