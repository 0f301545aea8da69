"""Counters of parts that wear out by use: collets, nuts, clips, batteries, styli; counted from the event that renewed
them.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from typing import Any, NamedTuple

from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.judge import NextJob
from nonna.shop.links.loop import Link, LinkSort
from nonna.shop.reason import Reason

RENEWED = {
    "collet": "collet-changed", "nut": "collet-changed", "clip": "clip-changed", "battery": "battery-changed",
    "stylus": "stylus-changed",
}  # fmt: skip
"""The event that renews a part."""
GRIPPED, HOURS_READ = (
    "tool-regripped",
    "hours-read",
)  #: an event that is a change more; one whose note is the hour meter
SOON, MINUTES = 0.9, 5.0  #: share of a limit from which it is said; what renewing one takes
_NUMBER = re.compile(r"\d{1,9}(?:[.,]\d{1,3})?")


class Counter(NamedTuple):
    """How far one part has come."""

    id: str
    name: str
    event: str  #: that renews it
    days: int
    changes: int
    hours: float | None  #: None where the hour meter was not read since, or not before
    limits: tuple[float, float, float]  #: days, changes, hours; 0: none
    torque_nm: float  #: as its maker says; 0: nobody said

    @property
    def worst(self) -> tuple[str, float, float]:
        """What has come furthest against its limit: its name, the count and the limit; ("", 0, 0) without a limit."""
        counts = (("days", float(self.days)), ("changes", float(self.changes)), ("hours", self.hours or 0.0))
        rows = [(name, count, limit) for (name, count), limit in zip(counts, self.limits, strict=True) if limit > 0.0]
        return max(rows, key=lambda row: row[1] / row[2], default=("", 0.0, 0.0))

    @property
    def share(self) -> float:
        """How much of its limit is used up."""
        _, count, limit = self.worst
        return count / limit if limit > 0.0 else 0.0


def counters(cards: Sequence[Mapping[str, Any]], machine: str, entries: Standing, now: datetime) -> tuple[Counter, ...]:
    """Return the counters of a machine's parts, from their cards (as the shop's file has them) and its records."""
    made = []
    for card in cards:
        if card.get("retired") or card.get("machine", "") != machine:
            continue
        event = RENEWED[str(card["part"])]
        events = [entry for entry in entries if entry.kind == "event"]
        renewed = next((entry for entry in reversed(events) if entry.name == event), None)
        since = renewed.signed_at.date() if renewed is not None else _date(card.get("since"), now)
        later = [
            entry
            for entry in events
            if (entry.number > renewed.number if renewed is not None else entry.signed_at.date() >= since)
        ]
        made.append(
            Counter(
                str(card["id"]), str(card["name"]), event, max(0, (now.date() - since).days),
                sum(entry.name == GRIPPED for entry in later), _hours(events, renewed, later),
                (float(card.get("limit_days", 0)), float(card.get("limit_changes", 0)),
                    float(card.get("limit_hours", 0.0))),
                float(card.get("torque_nm", 0.0)),
            )
        )  # fmt: skip
    return tuple(made)


def service_jobs(found: Sequence[Counter]) -> tuple[NextJob, ...]:
    """Return what is to be renewed: past its limit now, near it when there is time."""
    jobs = []
    for each in found:
        name, count, limit = each.worst
        if each.share < SOON:
            continue
        fetch = (each.name, *((f"Torque wrench: {each.torque_nm:g} N m, as its maker says",) if each.torque_nm else ()))
        link = Link(
            f"service-{each.id}", each.name, f"Renew {each.name}", minutes=MINUTES, fetch=fetch, sort=LinkSort.SERVICE
        )
        facts = {"count": count, "limit": limit, "days": count}
        jobs.append(NextJob(link, MINUTES, Reason(f"loop.service-{name}", facts), (), each.share < 1.0))
    return tuple(jobs)


def _hours(events: Sequence[Entry], renewed: Entry | None, later: Sequence[Entry]) -> float | None:
    """Return the hours between the meter's last reading before the part was renewed (or its first) and its newest."""
    before = [e for e in events if e.name == HOURS_READ and renewed is not None and e.number < renewed.number]
    read = [
        value
        for e in (*before[-1:], *(e for e in later if e.name == HOURS_READ))
        if (value := _number(e.note)) is not None
    ]
    return max(0.0, read[-1] - read[0]) if len(read) > 1 else None


def _number(note: str) -> float | None:
    found = _NUMBER.search(note)
    return float(found.group().replace(",", ".")) if found else None


def _date(text: object, now: datetime) -> date:
    try:
        return date.fromisoformat(str(text))
    except ValueError:
        return now.date()
