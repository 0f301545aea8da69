"""Presetter transfer: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Bench, Slot, Step

TOOLS = 5


def slots(bench: Bench) -> tuple[Slot, ...]:
    """Five tools, each on both; those that the records hold first."""
    tools = [*bench.named, *range(len(bench.named) + 1, TOOLS + 1)]
    return tuple(
        Slot({"tool": tool}, f"Tool {i}/{len(tools)}", "Length on the presetter", "tools", ("Length on the machine",))
        for i, tool in enumerate(tools, 1)
    )


def steps(bench: Bench) -> tuple[Step, ...]:
    """What the hands do."""
    del bench
    return (
        Step("Choose tools from the shortest to the longest in use; wipe tapers"),
        Step("Each on the presetter, then on the machine's own setter", "tools"),
        Step("Sign"),
    )
