"""Which link gives most of the doubt in a tool's length or a measured diameter, and what doing better would bring."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.bench.book.shared_doubt import Read, leaves
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.history import Entry
from nonna.shop.links.subjects import Subject
from nonna.shop.records.values import as_measurement
from nonna.stations.kind import Chain, StationKind


@dataclass(frozen=True, slots=True)
class DoubtPart:
    """One source of doubt in a result, with where it comes from."""

    source: str
    variance: float  #: mm²
    common: bool  #: the same error in every tool: it cancels in the difference of two
    link: str  #: key of the link of the loop it arises in
    plain: str  #: the source alone, as that link's budget calls it


@dataclass(frozen=True, slots=True)
class Doubt:
    """A result's doubt by its parts."""

    subject: Subject
    words: str  #: what it is the doubt of, such as "T4's length"
    expanded_mm: float
    parts: tuple[DoubtPart, ...]  #: largest first

    def share(self, part: DoubtPart) -> float:
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

    subject: Subject
    words: str  #: what it is the weakest of, such as "T4's length"
    source: str
    share: float  #: of the variance
    expanded_mm: float
    halved_mm: float
    link: str  #: key of the link it arises in
    plain: str  #: the source alone


def doubts(kind: StationKind, entries: Sequence[Entry], read: Read) -> tuple[Doubt, ...]:
    """Return the doubt at the end of each chain of a station's loop that was measured, down to its last sources.

    Parameters: entries, standing ones of one station; read, returns a record by its number.
    Raises: NonnaError (a record it rests on is damaged).
    """
    found = (doubt_of(kind, chain, entries, read) for chain in kind.chains)
    return tuple(doubt for doubt in found if doubt is not None)


def doubt_of(kind: StationKind, chain: Chain, entries: Sequence[Entry], read: Read) -> Doubt | None:
    """Look through the newest record of a chain's end that holds; None without one. Raises: as `doubts`."""
    newest = next((e for e in reversed(entries) if _holds(e, chain.procedure)), None)
    if newest is None or newest.expanded_mm is None:
        return None
    parts: dict[str, DoubtPart] = {}
    record = as_measurement(read(newest.number))
    for leaf in leaves(record, chain.result, read):
        own = leaf.record == record.hash and chain.own
        where = "of the tool itself" if own else f"at the {PROCEDURES[leaf.procedure].title.lower()}"
        words = f"{leaf.source} {where}"
        before = parts[words].variance if words in parts else 0.0
        parts[words] = DoubtPart(
            words, before + (chain.times * leaf.part) ** 2, not own, kind.loop.link_of(leaf.procedure), leaf.source
        )
    live = sorted((part for part in parts.values() if part.variance > 0.0), key=lambda part: -part.variance)
    if not live:
        return None
    return Doubt(
        newest.subject, chain.words.format(newest.subject.words), chain.times * newest.expanded_mm, tuple(live)
    )


def _holds(entry: Entry, procedure: str) -> bool:
    return entry.kind == "measurement" and entry.name == procedure and entry.verdict != "fail"


def weakest(kind: StationKind, entries: Sequence[Entry], read: Read) -> Weakest | None:
    """Name the largest source of doubt at the end of the first chain; None when nothing was measured there yet.

    Raises: NonnaError (damaged ledger).
    """
    doubt = doubt_of(kind, kind.chains[0], entries, read) if kind.chains else None
    if doubt is None:
        return None
    first = doubt.parts[0]
    return Weakest(
        doubt.subject, doubt.words, first.source, doubt.share(first), doubt.expanded_mm,
        doubt.what_if({first.source: 0.5}), first.link, first.plain,
    )  # fmt: skip
