"""What is suspicious in a list of tools, before any of them is measured."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nonna.shop.cards.machine import SHORTEST_MM, Machine, Tool
from nonna.shop.reason import Reason
from nonna.wording.lengths import MM_PER_INCH

THINNEST_MM = 0.2
AIR_MM = 0.5


@dataclass(frozen=True, slots=True)
class Doubtful:
    """One entry that should be looked at, and what it may have meant."""

    number: int
    field: str
    words: Reason
    suggestion_mm: float | None = None


def doubtful(tools: Sequence[Tool], machine: Machine, changer_mm: float = 0.0) -> tuple[Doubtful, ...]:
    """Question a list of tools.

    Parameters: changer_mm, the largest diameter the changer takes (0: not known).
    """
    found: list[Doubtful] = []
    counts = Counter(tool.number for tool in tools)
    for number, times in counts.items():
        if times > 1:
            found.append(Doubtful(number, "number", Reason("tray.twice", {"tool": number, "times": times})))
    for tool in tools:
        found += _pocket(tool, machine)
        found += _length(tool, machine)
        found += _diameter(tool, changer_mm)
    return tuple(found)


def _pocket(tool: Tool, machine: Machine) -> Iterator[Doubtful]:
    if 0 < machine.pocket_count < tool.number:
        facts = {"machine": machine.name, "pockets": f"{machine.pocket_count:g}", "tool": tool.number}
        yield Doubtful(tool.number, "number", Reason("tray.no-pocket", facts))


def _length(tool: Tool, machine: Machine) -> Iterator[Doubtful]:
    long, setter = tool.length_mm, machine.setter
    if long is None:
        return
    most = machine.travel_mm.z[1] - setter.trigger_plane_mm - AIR_MM if setter else float("inf")
    if long < SHORTEST_MM:
        meant = long * MM_PER_INCH
        words = Reason("tray.short", {"tool": tool.number, "long": long, "meant": meant})
        yield Doubtful(tool.number, "length_mm", words, meant if meant < most else None)
    elif long > most:
        meant = long / MM_PER_INCH
        likely = meant if SHORTEST_MM <= meant < most else None
        facts = {"tool": tool.number, "long": long, "most": most, "meant": meant}
        words = Reason("tray.long" if likely is None else "tray.long-inch", facts)
        yield Doubtful(tool.number, "length_mm", words, likely)


def _diameter(tool: Tool, changer_mm: float) -> Iterator[Doubtful]:
    d = tool.diameter_mm
    if d < THINNEST_MM:
        meant = d * MM_PER_INCH
        words = Reason("tray.thin", {"tool": tool.number, "d": d, "meant": meant})
        yield Doubtful(tool.number, "diameter_mm", words, meant)
    elif changer_mm > 0.0 and d > changer_mm:
        meant = d / MM_PER_INCH
        words = Reason("tray.wide", {"tool": tool.number, "d": d, "most": changer_mm})
        slip = d > 10.0 * changer_mm
        yield Doubtful(tool.number, "diameter_mm", words, meant if slip and meant <= changer_mm else None)
