"""What a rehearsal could not look at, because nobody described it: a clean one says so in the same breath."""

from __future__ import annotations

from collections.abc import Iterable

from nonna.shop.cards.machine import Machine, Tool

MOST_NAMED = 3


def not_looked_at(machine: Machine | None, tools: Iterable[Tool]) -> str:
    """Say what is not described and so was not looked at, "" where all is. Parameters: tools, those of the program."""
    if machine is None or machine.lathe is not None:
        return ""
    missing = ["spindle nose"] if machine.spindle is None else []
    bare = [f"T{tool.number}" for tool in tools if not tool.holder]
    if bare:
        more = f" and {len(bare) - MOST_NAMED} more" if len(bare) > MOST_NAMED else ""
        missing.append(f"holders of {', '.join(bare[:MOST_NAMED])}{more}")
    if not machine.obstacles:
        missing.append("what is clamped on the table")
    return f"Not described, not looked at: {'; '.join(missing)}." if missing else ""
