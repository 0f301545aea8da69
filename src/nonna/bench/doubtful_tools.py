"""What is suspicious in a list of tools, before any of them is measured."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nonna.shop.machine import SHORTEST_MM, Machine, Tool
from nonna.wording.lengths import MM_PER_INCH, Text

THINNEST_MM = 0.2
AIR_MM = 0.5


@dataclass(frozen=True, slots=True)
class Doubtful:
    """One entry that should be looked at, and what it may have meant."""

    number: int
    field: str
    words: Text
    suggestion_mm: float | None = None


def doubtful(tools: Sequence[Tool], machine: Machine, changer_mm: float = 0.0) -> tuple[Doubtful, ...]:
    """Question a list of tools.

    Parameters: changer_mm, the largest diameter the changer takes (0: not known).
    """
    found: list[Doubtful] = []
    counts = Counter(tool.number for tool in tools)
    for number, times in counts.items():
        if times > 1:
            found.append(
                Doubtful(number, "number", Text(f"T{number} stands {times} times: which one is in the pocket?"))
            )
    for tool in tools:
        found += _pocket(tool, machine)
        found += _length(tool, machine)
        found += _diameter(tool, changer_mm)
    return tuple(found)


def _pocket(tool: Tool, machine: Machine) -> Iterator[Doubtful]:
    if 0 < machine.pocket_count < tool.number:
        words = f"{machine.name} has {machine.pocket_count:g} pockets; there is none for T{tool.number}."
        yield Doubtful(tool.number, "number", Text(words))


def _length(tool: Tool, machine: Machine) -> Iterator[Doubtful]:
    long, setter = tool.length_mm, machine.setter
    if long is None:
        return
    most = machine.travel_mm.z[1] - setter.trigger_plane_mm - AIR_MM if setter else float("inf")
    if long < SHORTEST_MM:
        meant = long * MM_PER_INCH
        words = (
            f"T{tool.number} with {{long:length}} is shorter than any holder; in inches it would be {{meant:length}}."
        )
        yield Doubtful(
            tool.number, "length_mm", Text(words, {"long": long, "meant": meant}), meant if meant < most else None
        )
    elif long > most:
        meant = long / MM_PER_INCH
        likely = meant if SHORTEST_MM <= meant < most else None
        words = f"T{tool.number} with {{long:length}} does not fit over the setter, {{most:length}} does."
        if likely is not None:
            words += " Was it taken for inches? Then it is {meant:length}."
        yield Doubtful(tool.number, "length_mm", Text(words, {"long": long, "most": most, "meant": meant}), likely)


def _diameter(tool: Tool, changer_mm: float) -> Iterator[Doubtful]:
    d = tool.diameter_mm
    if d < THINNEST_MM:
        meant = d * MM_PER_INCH
        words = f"T{tool.number} with a diameter of {{d:length}} is thinner than a hair; in inches it would be {{meant:length}}."
        yield Doubtful(tool.number, "diameter_mm", Text(words, {"d": d, "meant": meant}), meant)
    elif changer_mm > 0.0 and d > changer_mm:
        meant = d / MM_PER_INCH
        words = f"T{tool.number} with a diameter of {{d:length}} is larger than the changer takes, {{most:length}}."
        slip = d > 10.0 * changer_mm
        yield Doubtful(
            tool.number,
            "diameter_mm",
            Text(words, {"d": d, "most": changer_mm}),
            meant if slip and meant <= changer_mm else None,
        )
