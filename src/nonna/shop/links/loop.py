"""A station's measuring loop as data: which link hangs on which, how long each holds, what breaks it, what mends it."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any, NamedTuple

from nonna.shop.links.subjects import ANY, STATION, Subject, SubjectKind

NOTICE_DAYS = 7  # due is said this long beforehand


class LinkSort(StrEnum):
    """How a link comes to hold."""

    MEASURED = "measured"  #: by a record of its procedure
    CERTIFICATE = "certificate"  #: by the certificate of a master
    EACH = "each"  #: by a record for each tool
    SERVICE = "service"  #: no link of the loop: a part to be renewed


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the loop."""

    key: str
    title: str
    job: str  #: what mending it is called
    procedure: str = ""  #: "" for a certificate
    subject: Subject = ANY  #: what its records are about; ANY for each tool
    hangs_on: tuple[str, ...] = ()
    holds_days: int = 90
    minutes: float = 5.0  #: until the technician's own times are known
    fetch: tuple[str, ...] = ()
    branch: str = ""  #: the row of the loop it stands in
    master_kind: str = ""  #: kind of master whose certificate it rests on directly
    sort: LinkSort = LinkSort.MEASURED
    shows: str = ""  #: what its value is called where it says more than the doubt, such as "run-out"
    like: str = ""  #: key of the link whose scene it is drawn with, where it has none of its own
    told: str = ""  #: who has to hear of it when it is due or broken
    also: tuple[str, ...] = ()  #: other procedures whose records do as well, with a result of the same name

    @property
    def procedures(self) -> tuple[str, ...]:
        """Its procedure and the others whose records do as well."""
        return (self.procedure, *self.also)


class EventKind(NamedTuple):
    """A kind of event: its name in records, its words, and the links it breaks (with all that hang below)."""

    name: str
    words: str
    breaks: frozenset[str] = frozenset()
    subject: Subject = STATION  #: what it befalls; A_TOOL and A_MASTER: which one is named when it is logged
    by_hand: bool = True  #: whether a person logs it


@dataclass(frozen=True, slots=True)
class Loop:
    """The loop of a kind of station."""

    branches: Mapping[str, str]  #: rows of its drawing by key, with their titles
    links: tuple[Link, ...]  #: each after those it hangs on
    events: tuple[EventKind, ...] = ()
    trips: Mapping[SubjectKind, tuple[str, ...]] = field(default_factory=dict)  #: what a failed check of that breaks

    def changed(self, changes: Mapping[str, Mapping[str, Any]]) -> Loop:
        """Return the loop with what a shop changed of its links (``holds_days``, ``minutes``, ``fetch``, ``told``)."""
        if not changes:
            return self
        rows = tuple(replace(link, **{**changes.get(link.key, {})}) for link in self.links)
        return replace(self, links=tuple(replace(row, fetch=tuple(row.fetch)) for row in rows))

    def without(self, keys: Collection[str]) -> Loop:
        """Return the loop without some links, and without what is nothing but them."""
        links = tuple(
            replace(link, hangs_on=tuple(key for key in link.hangs_on if key not in keys))
            for link in self.links
            if link.key not in keys
        )
        there = {link.branch for link in links}
        branches = {key: words for key, words in self.branches.items() if key in there}
        events = tuple(
            event._replace(breaks=event.breaks - set(keys))
            for event in self.events
            if not event.breaks or event.breaks - set(keys)
        )
        return replace(self, links=links, branches=branches, events=events)

    def link(self, key: str) -> Link:
        """Return a link by its key. Raises: KeyError."""
        for link in self.links:
            if link.key == key:
                return link
        raise KeyError(key)

    @property
    def each(self) -> Link | None:
        """The link that is measured for each tool, None where there is none."""
        return next((link for link in self.links if link.sort is LinkSort.EACH), None)

    def link_of(self, procedure: str) -> str:
        """Return the key of the link that a procedure mends, "" where it mends none."""
        return next((link.key for link in self.links if procedure in link.procedures), "")

    def event(self, name: str) -> EventKind | None:
        """Return an event by its name in records, None for one that this kind does not know."""
        return next((event for event in self.events if event.name == name), None)

    def upstream(self, key: str) -> tuple[str, ...]:
        """Return every link the given one hangs on, nearest first."""
        found: list[str] = []
        waiting = list(self.link(key).hangs_on)
        while waiting:
            at = waiting.pop(0)
            if at not in found:
                found.append(at)
                waiting.extend(self.link(at).hangs_on)
        return tuple(found)
