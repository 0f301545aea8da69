"""Results that hold, looked up by their name: what may be carried from one link to the next, and why not."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from nonna.metrology.doubt.coverage import carried_dof
from nonna.procedures.listing import PROCEDURES, offering
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.subjects import ANY, Subject
from nonna.shop.records.values import Measurement, Record, as_measurement


@dataclass(frozen=True, slots=True)
class Held:
    """A result of a record that holds."""

    name: str
    value: float
    u: float | None  #: None for a result without an uncertainty
    dof: float | None  #: that it carries on: those with ``t(0.975, dof) = k``; None: infinitely many
    record: Measurement

    @property
    def expanded(self) -> float | None:
        """Its expanded uncertainty, None for a result without one."""
        return self.record.result.results[self.name].expanded

    @property
    def undecided(self) -> bool:
        """Whether its record left the verdict open."""
        return self.record.verdict == "undecided"

    @property
    def readings(self) -> int:
        """How many readings it rests on."""
        return len(self.record.input.readings)


@dataclass(frozen=True, slots=True)
class Nothing:
    """Why no result can be carried, in words."""

    why: str


@dataclass(frozen=True, slots=True)
class Lacking:
    """A field that could not be carried."""

    field: str
    source: str  #: the procedure it comes from, or "shelf"
    why: str
    needed: bool  #: whether the sheet cannot do without it

    def to_document(self) -> dict[str, str]:
        """Return it as a prepared readings file has it."""
        return {"field": self.field, "from": self.source, "why": self.why}


@dataclass(frozen=True, slots=True)
class HeldResults:
    """Looks results up in the standing records of one station and its setter."""

    entries: Standing
    read: Callable[[int], Record]
    setter: str = ""  #: id of the setter in use; "" where the shop's files do not tell

    def find(self, procedure: str, name: str, subject: Subject = ANY) -> Held | Nothing:
        """Return the newest result of that name that holds, or why there is none.

        Parameters: subject, what was measured; ANY for what the procedure is usually done on.
        Notes: a record that failed, was withdrawn, is of another station, setter or subject, or does not hold that
        very result is passed over. Raises: NonnaError (a record that would be used is damaged).
        """
        title = PROCEDURES[procedure].title.lower()
        usual = PROCEDURES[procedure].subject
        wanted = {usual if subject == ANY else subject} | ({ANY} if subject in (ANY, usual) else set())
        why = ""
        for entry in self.entries.measured(procedure):
            words = self._unfit(entry, name, wanted)
            if not words:
                return held_in(as_measurement(self.read(entry.number)), name)
            why = why or words
        of = f" of {subject.words}" if subject != ANY else ""
        return Nothing(why or f"There is no {title}{of} in the book yet.")

    def held(self, procedure: str, name: str, subject: Subject = ANY) -> Held | None:
        """Return the newest result of that name that holds, None without one. Raises: as `find`."""
        found = self.find(procedure, name, subject)
        return found if isinstance(found, Held) else None

    def find_offered(self, offer: str, subject: Subject = ANY) -> Held | Nothing:
        """Return the newest result that holds of whatever gives something (`procedures.offers`), or why there is
        none.
        """
        found = [self.find(each.procedure, each.result, subject) for each in offering(offer)]
        held = [each for each in found if isinstance(each, Held)]
        if held:
            return max(held, key=lambda each: each.record.number)
        return found[0] if found else Nothing("No sheet here measures it.")

    def offered(self, offer: str, subject: Subject = ANY) -> Held | None:
        """Return the same, None without one. Raises: as `find`."""
        found = self.find_offered(offer, subject)
        return found if isinstance(found, Held) else None

    def value_offered(self, offer: str, subject: Subject = ANY) -> float | None:
        """Return the value of the same. Raises: as `find`."""
        found = self.offered(offer, subject)
        return found.value if found else None

    def value(self, procedure: str, name: str, subject: Subject = ANY) -> float | None:
        """Return the value of the newest result of that name that holds. Raises: as `find`."""
        found = self.held(procedure, name, subject)
        return found.value if found else None

    def _unfit(self, entry: Entry, name: str, wanted: set[Subject]) -> str:
        """Say why a record's result is not carried, "" when it may be."""
        which = f"Record {entry.number}"
        if entry.subject not in wanted:
            return f"{which} is of another: {entry.subject.words}."
        record = as_measurement(self.read(entry.number))
        if record.verdict == "fail":
            return f"{which} is over its limit."
        if record.setter not in ("", self.setter) and self.setter:
            return f"{which} was measured on another setter."
        if record.row(name) is None:
            return f"{which} does not hold that result ({name})."
        return ""


def held_in(record: Measurement, name: str) -> Held:
    """Return a record's result by its name. Raises: KeyError."""
    row = record.result.results[name]
    dof = carried_dof(row.k) if row.k is not None else math.inf
    return Held(name, float(row.value), row.u, None if math.isinf(dof) else dof, record)
