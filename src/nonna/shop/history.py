"""What the ledger says at a glance: one plain row a record, enough to judge the links."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class Entry:
    """One signed record, without its readings."""

    number: int
    kind: str  #: "measurement", "event" or "withdrawal"
    name: str  #: procedure or event
    machine: str
    subject: str  #: "Setter", "T4", a master's id ...
    verdict: str
    signed_at: datetime
    operator: str = ""
    value_mm: float | None = None
    expanded_mm: float | None = None
    refers_to: int | None = None
    note: str = ""


def standing(entries: Iterable[Entry], machine: str) -> tuple[Entry, ...]:
    """Return a machine's entries that still count: withdrawn ones and their withdrawals left out."""
    rows = [e for e in entries if e.machine in (machine, "")]
    withdrawn = {e.refers_to for e in rows if e.kind == "withdrawal"}
    return tuple(e for e in rows if e.kind != "withdrawal" and e.number not in withdrawn)


def latest(entries: Iterable[Entry], procedure: str, subject: str = "") -> Entry | None:
    """Return the newest measurement of a procedure (and subject), or None."""
    found = None
    for entry in entries:
        if entry.kind == "measurement" and entry.name == procedure and subject in ("", entry.subject):
            found = entry
    return found
