"""Which link gives most of the doubt in a tool's length, from the newest records."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from nonna.records.glance import influences
from nonna.shop.history import Entry, latest


@dataclass(frozen=True, slots=True)
class Weakest:
    """The largest source of doubt, and what the doubt would be with that source halved."""

    subject: str
    source: str
    share: float  #: of the variance
    expanded_mm: float
    halved_mm: float


def weakest(ledger: Path, entries: Sequence[Entry]) -> Weakest | None:
    """Look through the newest tool length and the setter calibration it rests on.

    Returns None when no tool was measured yet. Raises: NonnaError (damaged ledger).
    """
    tool = latest(entries, "tool-length")
    if tool is None or tool.expanded_mm is None:
        return None
    before = [e for e in entries if e.number < tool.number]
    setter = latest(before, "setter-calibration")
    variances: dict[str, float] = {}
    for row in influences(ledger, tool.number).get("length_mm", []):
        if row["source"] == "trigger plane" and setter is not None:
            inner = influences(ledger, setter.number).get("trigger_plane_mm", [])
            total = math.fsum(r["u"] ** 2 for r in inner) or 1.0
            for r in inner:
                name = f"{r['source']} at the setter calibration"
                variances[name] = variances.get(name, 0.0) + row["u"] ** 2 * r["u"] ** 2 / total
        else:
            name = f"{row['source']} of the tool itself"
            variances[name] = variances.get(name, 0.0) + row["u"] ** 2
    if not variances:
        return None
    source = max(variances, key=lambda name: variances[name])
    share = variances[source] / math.fsum(variances.values())
    return Weakest(tool.subject, source, share, tool.expanded_mm, tool.expanded_mm * math.sqrt(1 - 0.75 * share))
