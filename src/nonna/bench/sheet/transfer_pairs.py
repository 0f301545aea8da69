"""Tools that were measured on a presetter and on a machine: what a transfer starts from, so that nobody types it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from nonna.bench.book.results_that_hold import Held
from nonna.bench.station.site import Site
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.procedures.session import FROM_BOOK, Session, TapeRow
from nonna.shop.links.subjects import SubjectKind
from nonna.shop.texts.given import Given


@dataclass(frozen=True, slots=True)
class Pair:
    """One tool on both, each by the newest record that holds."""

    name: str
    presetter: Held
    machine: Held

    @property
    def means_of(self) -> int:
        """How many readings its length on the presetter is the mean of."""
        readings = self.presetter.record.input.readings
        return max(1, len([row for row in readings if row["axis"] == "z"]))

    def row(self) -> TapeRow:
        """Return it as a reading on the tape."""
        values = Given({"tool": self.name, "presetter_mm": self.presetter.value, "machine_mm": self.machine.value})
        here, there = self.presetter.record, self.machine.record
        at = max(here.signed_text, there.signed_text)
        return TapeRow(values, self.name, at, f"{FROM_BOOK}{here.number}, {there.number}")


def pairs(site: Site, machine: str) -> tuple[Pair, ...]:
    """Return the tools that a presetter and a machine have both measured, shortest first.

    A number alone does not make one tool of two: kind, diameter and description are the same in both tables.
    Raises: NonnaError (a file or a record that would be used is damaged).
    """
    there = Site.load(site.folder, machine)
    mine = {t.subject: t for t in site.tools}
    own, theirs = site.results(), there.results()
    found = []
    for tool in there.tools:
        same = mine.get(tool.subject)
        alike = same is not None and (same.kind, same.diameter_mm, same.description) == (
            tool.kind, tool.diameter_mm, tool.description,
        )  # fmt: skip
        if not alike:
            continue
        here = own.offered(offers.ON_PRESETTER, tool.subject)
        on_machine = theirs.offered(offers.TOOL_LENGTH, tool.subject)
        if here is not None and on_machine is not None:
            found.append(Pair(str(tool.subject), here, on_machine))
    return tuple(sorted(found, key=lambda pair: pair.presetter.value))


def with_pairs(site: Site, session: Session) -> Session:
    """Return a transfer's sheet with what the records hold already on its tape; other sheets as they are.

    Raises: NonnaError, as `pairs`.
    """
    subject = session.facts.subject
    if session.name != one_offering(offers.TRANSFER) or subject.kind is not SubjectKind.STATION or not subject.id:
        return session
    found = pairs(site, subject.id)
    means = {"presetter_means_of": max(pair.means_of for pair in found)} if found else {}
    setup = Given({**session.facts.setup, **means})
    named = replace(session.facts, named=tuple(pair.name for pair in found), setup=setup)
    return replace(session, facts=named, rows=tuple(pair.row() for pair in found))
