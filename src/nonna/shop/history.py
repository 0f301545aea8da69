"""What the ledger says at a glance: one plain row a record, enough to judge the links."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from nonna.shop.subjects import ANY, Subject

MASTER_EVENT = "master-"  #: events of masters begin so


@dataclass(frozen=True, slots=True)
class Entry:
    """One signed record, without its readings."""

    number: int
    kind: str  #: "measurement", "event" or "withdrawal"
    name: str  #: procedure or event
    machine: str
    subject: Subject
    verdict: str
    signed_at: datetime
    operator: str = ""
    value_mm: float | None = None  #: the procedure's main result, None where the record does not hold it
    expanded_mm: float | None = None
    refers_to: int | None = None
    note: str = ""


def standing(entries: Iterable[Entry], machine: str, home: str | None = None) -> tuple[Entry, ...]:
    """Return a machine's entries that still count: withdrawn ones and their withdrawals left out.

    Parameters: home, the machine that records without one belong to (None: this one). What befell a master befell
    it for every machine of the shop.
    """
    rows = tuple(entries)
    withdrawn = {e.refers_to for e in rows if e.kind == "withdrawal"}
    here = {machine} | ({""} if home in (None, machine) else set())
    return tuple(
        e
        for e in rows
        if e.kind != "withdrawal"
        and e.number not in withdrawn
        and (e.machine in here or (e.kind == "event" and e.name.startswith(MASTER_EVENT)))
    )


def latest(entries: Iterable[Entry], procedure: str, subject: Subject = ANY) -> Entry | None:
    """Return the newest measurement of a procedure (and subject) that holds its main result, or None.

    It tells when and how a link was done last. A value to reckon with is looked up by its name (`records.held`).
    """
    found = None
    for entry in entries:
        if entry.kind != "measurement" or entry.name != procedure or entry.value_mm is None:
            continue
        if subject == ANY or subject.means(entry.subject):
            found = entry
    return found
