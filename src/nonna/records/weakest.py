"""Which link gives most of the doubt in a tool's length or a measured diameter, and what doing better would bring."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from nonna.records.glance import influences
from nonna.shop.history import Entry, latest


@dataclass(frozen=True, slots=True)
class Part:
    """One source of doubt in a result, with where it comes from."""

    source: str
    variance: float  #: mm²
    common: bool  #: the same error in every tool: it cancels in the difference of two


@dataclass(frozen=True, slots=True)
class Doubt:
    """A result's doubt by its parts."""

    subject: str  #: what it is the doubt of, such as "T4's length"
    expanded_mm: float
    parts: tuple[Part, ...]  #: largest first

    def share(self, part: Part) -> float:
        """Return a part's share of the variance."""
        return part.variance / math.fsum(p.variance for p in self.parts)

    def what_if(self, factors: Mapping[str, float]) -> float:
        """Return the expanded uncertainty if each named source had so many times its standard uncertainty."""
        now = math.fsum(p.variance for p in self.parts)
        then = math.fsum(p.variance * factors.get(p.source, 1.0) ** 2 for p in self.parts)
        return self.expanded_mm * math.sqrt(then / now)

    def between_two(self, factors: Mapping[str, float]) -> float:
        """Return the expanded uncertainty of the difference of two such results: what is common cancels."""
        now = math.fsum(p.variance for p in self.parts)
        own = 2.0 * math.fsum(p.variance * factors.get(p.source, 1.0) ** 2 for p in self.parts if not p.common)
        return self.expanded_mm * math.sqrt(own / now)


@dataclass(frozen=True, slots=True)
class Weakest:
    """The largest source of doubt, and what the doubt would be with that source halved."""

    subject: str
    source: str
    share: float  #: of the variance
    expanded_mm: float
    halved_mm: float


def length_doubt(ledger: Path, entries: Sequence[Entry]) -> Doubt | None:
    """Look through the newest tool length and the setter calibration it rests on; None without one.

    Raises: NonnaError (damaged ledger).
    """
    tool = latest(entries, "tool-length")
    if tool is None or tool.expanded_mm is None:
        return None
    setter = latest([e for e in entries if e.number < tool.number], "setter-calibration")
    variances: dict[tuple[str, bool], float] = {}
    for row in influences(ledger, tool.number).get("length_mm", []):
        if row["source"] == "trigger plane" and setter is not None:
            inner = influences(ledger, setter.number).get("trigger_plane_mm", [])
            total = math.fsum(r["u"] ** 2 for r in inner) or 1.0
            for r in inner:
                key = (f"{r['source']} at the setter calibration", True)
                variances[key] = variances.get(key, 0.0) + row["u"] ** 2 * r["u"] ** 2 / total
        else:
            key = (f"{row['source']} of the tool itself", False)
            variances[key] = variances.get(key, 0.0) + row["u"] ** 2
    return _doubt(f"{tool.subject}'s length", tool.expanded_mm, variances)


def diameter_doubt(ledger: Path, entries: Sequence[Entry]) -> Doubt | None:
    """Look through the newest probe ring: what it leaves in doubt in any measured diameter; None without one.

    Raises: NonnaError (damaged ledger).
    """
    ring = latest(entries, "probe-ring")
    if ring is None or ring.expanded_mm is None:
        return None
    rows = influences(ledger, ring.number).get("ball_radius_mm", [])
    variances = {(f"{row['source']} at the probe ring", True): 4.0 * row["u"] ** 2 for row in rows}
    return _doubt("a measured diameter", 2.0 * ring.expanded_mm, variances)


def _doubt(subject: str, expanded: float, variances: Mapping[tuple[str, bool], float]) -> Doubt | None:
    parts = tuple(
        Part(source, v, common) for (source, common), v in sorted(variances.items(), key=lambda row: -row[1]) if v > 0.0
    )
    return Doubt(subject, expanded, parts) if parts else None


def weakest(ledger: Path, entries: Sequence[Entry]) -> Weakest | None:
    """Name the largest source of doubt in the newest tool length; None when no tool was measured yet.

    Raises: NonnaError (damaged ledger).
    """
    doubt = length_doubt(ledger, entries)
    if doubt is None:
        return None
    first = doubt.parts[0]
    subject = doubt.subject.removesuffix("'s length")
    return Weakest(subject, first.source, doubt.share(first), doubt.expanded_mm, doubt.what_if({first.source: 0.5}))
