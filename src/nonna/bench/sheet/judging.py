"""Results of a whole job: each tool evaluated as its sheet would, judged by its table and its own past, signed
together.
"""

from __future__ import annotations

import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from nonna.bench import clock
from nonna.bench.book.chain import Receipt
from nonna.bench.sheet.opening import Opening, open_sheet
from nonna.bench.sheet.signing import recorded, sign
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.doubt.decision import Verdict
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.listing import offering
from nonna.procedures.session import Session
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Entry
from nonna.shop.links.subjects import Subject
from nonna.shop.reason import Reason
from nonna.shop.texts.given import Given, Plain

FAR_MM = 1.0  #: beyond this it is another tool, or it broke or pulled out
INSERT_MM = 0.05  #: beyond this, on a cutter with inserts, one may not be seated
ALIKE = 3  #: so many tools changed alike point at the setter
_INSERTS = ("face-mill", "boring-bar")
LENGTHS = tuple(each.procedure for each in offering(offers.TOOL_LENGTH_HERE))


@dataclass(frozen=True, slots=True)
class Judged:
    """One result waiting to be accepted."""

    subject: Subject
    name: str  #: of the procedure
    session: Session | None = None
    opening: Opening | None = None
    evaluation: Evaluation | None = None
    program: str = ""
    failed: str = ""  #: why there is no result
    site: Site | None = None  #: shop and station it was measured on: it is signed for those
    suspicion: Reason | None = None

    @property
    def value_mm(self) -> float | None:
        """The main result."""
        if self.evaluation is None or self.session is None:
            return None
        main = self.session.procedure.main[0]
        return next((q.value for q in self.evaluation.quantities if q.name == main), None)

    @property
    def expanded_mm(self) -> float | None:
        """Its expanded uncertainty."""
        main = self.session.procedure.main[0] if self.session else ""
        quantities = self.evaluation.quantities if self.evaluation else ()
        estimate = next((q.estimate for q in quantities if q.name == main), None)
        return estimate.expanded if estimate else None

    @property
    def verdict(self) -> Verdict:
        """What is said of it; a failed measurement fails."""
        return self.evaluation.verdict if self.evaluation else Verdict.FAIL

    @property
    def doubtful(self) -> bool:
        """Whether there is a result and something speaks against it: it is never signed with the others."""
        return self.suspicion is not None or (self.evaluation is not None and self.verdict is Verdict.FAIL)

    @property
    def state(self) -> str:
        """Of a breakage check: ok, worn, broken, pulled-out or missing; "" of others."""
        return str(self.evaluation.extras.get("state", "")) if self.evaluation else ""


def judge(
    site: Site,
    subject: Subject,
    name: str,
    readings: Sequence[Mapping[str, Plain]],
    source: str,
    setup: Mapping[str, Plain] | None = None,
    program: str = "",
    variant: str = "",
) -> Judged:
    """Evaluate the readings of one tool, all that is known carried in; what is wrong is kept in words, never raised."""
    try:
        opening = open_sheet(site, name, subject, variant=variant)
        facts = replace(opening.facts, setup=Given({**opening.facts.setup, **(setup or {})}))
        at = clock.stamp()
        session = Session(name, facts).take_all(readings, source, at)
        result = session.evaluate()
        if isinstance(result, NonnaError):
            raise result
    except NonnaError as error:
        return Judged(subject, name, failed=error.message, program=program, site=site)
    return Judged(subject, name, session, opening, result, program, site=site)


def suspected(rows: Sequence[Judged], tools: Mapping[Subject, Tool], entries: Sequence[Entry]) -> tuple[Judged, ...]:
    """Say of each length what its change may mean: wrong tool, an insert not seated, slow drift, or the setter."""
    changes = {
        row.subject: row.value_mm - tool.length_mm
        for row in rows
        if row.name in LENGTHS and row.value_mm is not None
        and (tool := tools.get(row.subject)) is not None and tool.length_mm is not None
    }  # fmt: skip
    common = _common(list(changes.values()))
    made = []
    for row in rows:
        change = changes.get(row.subject)
        words = None
        if row.evaluation is not None and "scatter-above-history" in row.evaluation.flags:
            words = Reason("tray.apart", {})
        elif change is not None:
            words = _suspicion(row, tools[row.subject], change, common, _past(entries, row.subject))
        made.append(replace(row, suspicion=words))
    return tuple(made)


def sign_all(rows: Sequence[Judged], operator: str) -> tuple[Receipt, ...]:
    """Sign results into the ledger of the shop and for the station they were measured on: all of them or none.

    Raises: NonnaError (the ledger refuses, a row has no result, there is none, or they are of several shops).
    """
    bodies = []
    sites = {row.site.folder.root: row.site for row in rows if row.site is not None}
    if len(sites) != 1:
        raise NonnaError("out-of-range", "These results are not of one shop; sign them one by one.", "results")
    ((_, site),) = sites.items()
    for row in rows:
        if row.session is None or row.opening is None or row.evaluation is None or row.site is None:
            raise NonnaError(
                "missing-field",
                "{words} has no result to sign: {failed}",
                str(row.subject),
                words=row.subject.words,
                failed=row.failed,
            )
        bodies.append(recorded(row.site, row.session, row.opening, row.evaluation, operator, row.program))
    return sign(site.folder, bodies)


def _past(entries: Sequence[Entry], subject: Subject) -> list[float]:
    """Lengths measured before, oldest first."""
    return [
        e.value_mm
        for e in entries
        if e.name in LENGTHS and e.subject == subject and e.value_mm is not None and e.verdict != "fail"
    ]


def _common(changes: Sequence[float]) -> float | None:
    """Return the shift that several tools share, or None where they do not agree."""
    if len(changes) < ALIKE:
        return None
    middle = statistics.median(changes)
    near = [c for c in changes if abs(c - middle) < max(0.003, 0.15 * abs(middle))]
    return middle if len(near) >= 0.8 * len(changes) and abs(middle) > 0.008 else None


def _suspicion(row: Judged, tool: Tool, change: float, common: float | None, past: Sequence[float]) -> Reason | None:
    facts = {"change": change, "common": common or 0.0}
    if abs(change) > max(FAR_MM, 2.0 * tool.length_uncertainty_mm):
        if tool.length_uncertainty_mm >= FAR_MM:
            return Reason("tray.rough", facts)
        return Reason("tray.far", facts)
    if common is not None and abs(change - common) < max(0.003, 0.15 * abs(common)):
        return Reason("tray.alike", facts)
    value = row.value_mm
    if len(past) >= 3 and value is not None:
        steps = [b - a for a, b in pairwise(past)]
        drift = statistics.median(steps)
        if abs(change) > INSERT_MM and abs((value - past[-1]) - drift) < 2.0 * abs(drift) + 0.002:
            return Reason("tray.drift", facts)
    if tool.kind in _INSERTS and abs(change) > INSERT_MM:
        return Reason("tray.insert", facts)
    return None
