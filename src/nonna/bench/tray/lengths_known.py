"""What the records know of the tools' lengths and of their doubt, split into shared and own."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.book.shared_doubt import Leaf, leaves
from nonna.procedures import offers
from nonna.shop.cards.machine import Tool


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of the lengths: values and doubts (k = 1), mm, all from the gauge line."""

    lengths: Mapping[str, float]
    own_u: Mapping[str, float]
    plane_u: float  #: of the trigger plane, shared by all
    probe_mm: float | None = None
    probe_u: float = 0.0


def known_lengths(results: HeldResults, tools: Sequence[Tool]) -> Known | None:
    """Return measured lengths (the table's where none was measured), or None where none is known.

    Raises: NonnaError (a record they rest on is damaged).
    """
    plane = results.offered(offers.TRIGGER_PLANE)
    common = leaves(plane.record, plane.name, results.read) if plane else ()
    shared = {leaf.key for leaf in common}
    lengths, own = {}, {}
    for tool in tools:
        name = f"T{tool.number}"
        held = results.offered(offers.TOOL_LENGTH, tool.subject)
        if held is not None:
            lengths[name] = held.value
            own[name] = _u(leaf for leaf in leaves(held.record, held.name, results.read) if leaf.key not in shared)
        elif tool.length_mm is not None:
            lengths[name], own[name] = tool.length_mm, tool.length_uncertainty_mm / math.sqrt(3.0)
    if not lengths:
        return None
    probe = results.offered(offers.PROBE_LENGTH)
    probe_u = 0.0
    if probe is not None:
        probe_u = _u(leaf for leaf in leaves(probe.record, probe.name, results.read) if leaf.key not in shared)
    return Known(lengths, own, _u(common), probe.value if probe else None, probe_u)


def _u(parts: Iterable[Leaf]) -> float:
    return math.hypot(*(leaf.part for leaf in parts))
