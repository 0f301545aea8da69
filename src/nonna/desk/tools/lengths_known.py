"""What the records know of the tools' lengths and of their doubt, split into shared and own."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.shop.history import Entry, latest
from nonna.shop.machine import Tool

K = 2.0  #: expanded uncertainties of records are taken as twice the standard one here


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of the lengths: values and doubts (k = 1), mm, all from the gauge line."""

    lengths: Mapping[str, float]
    own_u: Mapping[str, float]
    plane_u: float  #: of the trigger plane, shared by all
    probe_mm: float | None = None
    probe_u: float = 0.0


def known_lengths(entries: Sequence[Entry], tools: Sequence[Tool]) -> Known | None:
    """Return measured lengths (the table's where none was measured), or None where none is known."""
    plane, probe = latest(entries, "setter-calibration"), latest(entries, "probe-length")
    plane_u = (plane.expanded_mm or 0.0) / K if plane else 0.0
    lengths, own = {}, {}
    for tool in tools:
        entry = latest(entries, "tool-length", f"T{tool.number}")
        value = entry.value_mm if entry and entry.value_mm is not None else tool.length_mm
        if value is None:
            continue
        lengths[f"T{tool.number}"] = value
        whole = (entry.expanded_mm or 0.0) / K if entry else tool.length_uncertainty_mm / math.sqrt(3.0)
        own[f"T{tool.number}"] = math.sqrt(max(0.0, whole**2 - plane_u**2))
    if not lengths:
        return None
    return Known(
        lengths, own, plane_u, probe.value_mm if probe else None, (probe.expanded_mm or 0.0) / K if probe else 0.0
    )
