"""Which link gives most of the doubt in a tool's length or a measured diameter, and what doing better would bring."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.procedures.listing import PROCEDURES
from nonna.records.shared import Read, leaves
from nonna.shop.history import Entry
from nonna.shop.links import LINKS


@dataclass(frozen=True, slots=True)
class Part:
    """One source of doubt in a result, with where it comes from."""

    source: str
    variance: float  #: mm²
    common: bool  #: the same error in every tool: it cancels in the difference of two
    link: str  #: key of the link of the loop it arises in
    plain: str  #: the source alone, as that link's budget calls it


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
    link: str  #: key of the link it arises in
    plain: str  #: the source alone


def length_doubt(entries: Sequence[Entry], read: Read) -> Doubt | None:
    """Look through the newest tool length that holds, down to its last sources; None without one.

    Parameters: entries, standing ones of one station; read, returns a record by its number.
    Raises: NonnaError (a record it rests on is damaged).
    """
    return _through(entries, read, "tool-length", "length_mm", "{}'s length", 1.0)


def diameter_doubt(entries: Sequence[Entry], read: Read) -> Doubt | None:
    """Look through the newest probe ring: what it leaves in doubt in any measured diameter; None without one.

    Raises: NonnaError (a record it rests on is damaged).
    """
    return _through(entries, read, "probe-ring", "ball_radius_mm", "a measured diameter", 2.0)


def _through(
    entries: Sequence[Entry], read: Read, procedure: str, name: str, subject: str, times: float
) -> Doubt | None:
    newest = next((e for e in reversed(entries) if _holds(e, procedure)), None)
    if newest is None or newest.expanded_mm is None:
        return None
    parts: dict[str, Part] = {}
    record = read(newest.number)
    for leaf in leaves(record, name, read):
        own = leaf.record == record.hash and procedure == "tool-length"
        where = "of the tool itself" if own else f"at the {PROCEDURES[leaf.procedure].title.lower()}"
        words = f"{leaf.source} {where}"
        before = parts[words].variance if words in parts else 0.0
        parts[words] = Part(words, before + (times * leaf.part) ** 2, not own, _link(leaf.procedure), leaf.source)
    live = sorted((part for part in parts.values() if part.variance > 0.0), key=lambda part: -part.variance)
    return Doubt(subject.format(newest.subject), times * newest.expanded_mm, tuple(live)) if live else None


def _link(procedure: str) -> str:
    return next((link.key for link in LINKS if link.procedure == procedure), "")


def _holds(entry: Entry, procedure: str) -> bool:
    return entry.kind == "measurement" and entry.name == procedure and entry.verdict != "fail"


def weakest(entries: Sequence[Entry], read: Read) -> Weakest | None:
    """Name the largest source of doubt in the newest tool length; None when no tool was measured yet.

    Raises: NonnaError (damaged ledger).
    """
    doubt = length_doubt(entries, read)
    if doubt is None:
        return None
    first = doubt.parts[0]
    subject = doubt.subject.removesuffix("'s length")
    return Weakest(
        subject, first.source, doubt.share(first), doubt.expanded_mm, doubt.what_if({first.source: 0.5}), first.link,
        first.plain,
    )  # fmt: skip
