"""What the ledger says at a glance: one plain row a record, enough to judge the links."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from functools import cached_property
from typing import NamedTuple

from nonna.shop.links.subjects import ANY, Subject

CARD = "card"  #: kind of a record that says how cards changed
STORED, DIFFERS = "stored-in-control", "control-differs"  #: what a control's own table says of a tool
CHANGES_NOTHING = (
    "hours-read",
    "program-override",
    "rules-changed",
    STORED,
    DIFFERS,
)  #: these only say something
MASTER_EVENT = "master-"  #: events of masters begin so


class Entry(NamedTuple):
    """One signed record, without its readings."""

    number: int
    kind: str  #: "measurement", "event", "withdrawal" or `CARD`
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
    invented: bool = False  #: signed in a practice shop

    @property
    def befell(self) -> bool:
        """Whether it is an event that changed something on what it names."""
        return self.kind == "event" and self.name not in CHANGES_NOTHING


class Standing(tuple[Entry, ...]):
    """One station's entries that count, oldest first, with an index of its measurements."""

    @cached_property
    def _measured(self) -> dict[str, tuple[Entry, ...]]:
        found: dict[str, list[Entry]] = {}
        for entry in reversed(self):
            if entry.kind == "measurement":
                found.setdefault(entry.name, []).append(entry)
        return {name: tuple(rows) for name, rows in found.items()}

    @cached_property
    def _newest(self) -> dict[tuple[str, Subject | None], Entry]:
        found: dict[tuple[str, Subject | None], Entry] = {}
        for name, rows in self._measured.items():
            for entry in rows:
                if entry.value_mm is not None:
                    found.setdefault((name, None), entry)
                    found.setdefault((name, entry.subject), entry)
        return found

    @cached_property
    def in_control(self) -> dict[Subject, Entry]:
        """What was said last of each tool in its control's own table."""
        return {entry.subject: entry for entry in self if entry.kind == "event" and entry.name in (STORED, DIFFERS)}

    def measured(self, procedure: str) -> tuple[Entry, ...]:
        """Return the measurements of a procedure, newest first."""
        return self._measured.get(procedure, ())

    def newest(self, procedures: Iterable[str], subject: Subject = ANY) -> Entry | None:
        """Return the newest measurement of any of these procedures, as `latest`."""
        found = (self.latest(name, subject) for name in procedures)
        return max((entry for entry in found if entry is not None), key=lambda e: e.number, default=None)

    def latest(self, procedure: str, subject: Subject = ANY) -> Entry | None:
        """Return the newest measurement of a procedure (and subject) that holds its main result, or None.

        It tells when and how a link was done last. A value to reckon with is looked up by its name
        (`bench.book.results_that_hold`). A record that names no subject is about any.
        """
        if subject == ANY:
            return self._newest.get((procedure, None))
        found = (self._newest.get((procedure, subject)), self._newest.get((procedure, ANY)))
        return max((e for e in found if e is not None), key=lambda e: e.number, default=None)


def standing(entries: Iterable[Entry], machine: str, home: str | None = None, *, practice: bool = True) -> Standing:
    """Return a machine's entries that still count: withdrawn ones and their withdrawals left out.

    Parameters: home, the machine that records without one belong to (None: this one). What befell a master befell
    it for every machine of the shop. practice: whether the shop is for practice; else what was signed in one does not
    count.
    """
    rows = tuple(entries)
    withdrawn = {e.refers_to for e in rows if e.kind == "withdrawal"}
    here = {machine} | ({""} if home in (None, machine) else set())
    return Standing(
        e
        for e in rows
        if e.kind != "withdrawal"
        and (practice or not e.invented)
        and e.number not in withdrawn
        and (e.machine in here or (e.kind == "event" and e.name.startswith(MASTER_EVENT)))
    )
