"""What evaluating a sheet gives: numbers with doubt, limits met or not, a verdict, advice."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from nonna.metrology.doubt.decision import Rule, decide, worst
from nonna.metrology.doubt.decision import Verdict as Verdict  # handed out with every evaluation
from nonna.metrology.doubt.uncertain import Estimate
from nonna.procedures.telling import words_of
from nonna.shop.reason import Reason
from nonna.shop.texts.given import Document, Plain
from nonna.wording.lengths import Units

FORMAT = "nonna-result/1"


@dataclass(frozen=True, slots=True)
class Quantity:
    """One result; without an estimate it is a plain number (a range, a p-value)."""

    name: str
    title: str
    value: float
    unit: str = "mm"
    estimate: Estimate | None = None

    @classmethod
    def of(cls, name: str, title: str, estimate: Estimate, unit: str = "mm") -> Quantity:
        """Make a quantity from an estimate."""
        return cls(name, title, estimate.value, unit, estimate)

    def to_document(self) -> dict[str, Plain]:
        """Return the quantity as it stands in a result."""
        if self.estimate is None:
            return {"value": self.value, "unit": self.unit}
        e = self.estimate
        return {
            "value": e.value,
            "unit": self.unit,
            "u": e.u,
            "dof": None if math.isinf(e.dof) else e.dof,
            "k": e.k,
            "U": e.expanded,
        }


@dataclass(frozen=True, slots=True)
class Move:
    """A screw to turn before the next pass."""

    screw: str  #: its name, such as "90°" or "front left"
    words: Reason
    amount_mm: float = 0.0  #: how far the dial shall drop, or the screw shall rise


@dataclass(frozen=True, slots=True)
class Check:
    """One limit met or not: what the limit bar draws."""

    title: str
    value: float
    guard_low: float  #: one-sided 95 % bounds of the value
    guard_high: float
    limit: float
    verdict: Verdict
    unit: str = "mm"
    of: str = ""  #: name of the result that is judged, where several are


def check_limit(
    title: str,
    value: float,
    limit: float | None,
    rule: Rule,
    estimate: Estimate | None = None,
    unit: str = "mm",
    of: str = "",
) -> Check:
    """Judge a value by its limit, with the guard band of its estimate (none for a plain value).

    Without a limit the check's verdict is ``none``; leave such checks out.
    """
    guard = estimate.k1 * estimate.u if estimate is not None else 0.0
    size = abs(value)
    verdict = decide(value, limit, guard, rule)
    top = limit if limit is not None else math.inf
    return Check(title, size, max(0.0, size - guard), size + guard, top, verdict, unit, of)


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything a sheet, a record or a certificate needs to know of a result."""

    procedure: str
    quantities: tuple[Quantity, ...]
    rule: Rule
    headline: Reason  #: the finding in one plain sentence
    todo: Reason | None  #: what to do next; None where a record is read
    checks: tuple[Check, ...] = ()
    flags: tuple[str, ...] = ()
    advice: tuple[Reason, ...] = ()
    extras: Document = field(default_factory=dict)  #: what its own file format says beside
    moves: tuple[Move, ...] = ()  #: what the hands should turn before the next pass

    @property
    def verdict(self) -> Verdict:
        """The worst of the checks; ``none`` without a limit."""
        return worst(check.verdict for check in self.checks)

    def is_finite(self) -> bool:
        """Whether every number in it is one."""
        numbers = [q.value for q in self.quantities] + [c.value for c in self.checks]
        for e in (q.estimate for q in self.quantities if q.estimate is not None):
            numbers += [e.value, e.u, e.k, e.expanded]
        return all(map(math.isfinite, numbers)) and _finite(self.extras)

    def quantity(self, name: str) -> Quantity:
        """Return a quantity by its name. Raises: KeyError."""
        for quantity in self.quantities:
            if quantity.name == name:
                return quantity
        raise KeyError(name)

    def to_document(self, units: Units = Units.MM) -> dict[str, Plain]:
        """Return the result in the published format; only the advice follows the unit asked for."""
        budgets: dict[str, Plain] = {
            q.name: [{"source": row.source, "u": row.u, "share": row.share} for row in q.estimate.budget]
            for q in self.quantities
            if q.estimate is not None
        }
        return {
            "format": FORMAT,
            "procedure": self.procedure,
            "results": {q.name: q.to_document() for q in self.quantities},
            "budget": budgets,
            "verdict": self.verdict.value,
            "rule": self.rule.to_document(),
            "flags": list(self.flags),
            "advice": [
                *(words_of(said, units) for said in (self.headline, self.todo, *self.advice) if said is not None),
                *(FLAG_WORDS[flag] for flag in _TOLD if flag in self.flags),
            ],
            **self.extras,
        }

    def influences(self) -> dict[str, list[dict[str, Plain]]]:
        """Return each result's sources with their degrees of freedom, for the ledger."""
        return {
            q.name: [
                {
                    "source": row.source,
                    "u": row.u,
                    "dof": None if math.isinf(row.dof) else row.dof,
                    "shape": row.shape,
                    "field": row.field,
                    "sign": row.sign,
                }
                for row in q.estimate.budget
            ]
            for q in self.quantities
            if q.estimate is not None
        }


def _finite(found: object) -> bool:
    if isinstance(found, float):
        return math.isfinite(found)
    if isinstance(found, Mapping):
        return all(map(_finite, found.values()))
    return all(map(_finite, found)) if isinstance(found, list | tuple) else True


FLAG_WORDS: Mapping[str, str] = {
    "scatter-above-history": "These touches scatter more than the known repeatability allows. "
    "Something is loose or dirty; find it before you trust this.",
    "self-consistent": "Lengths agree with each other, not with the world: the master counts as exact.",
    "not-traceable": "The master has no traceable certificate; say so when you pass this value on.",
    "master-without-uncertainty": "The master's own doubt is not in this: its certificate states no uncertainty, so "
    "the doubt shown is too small.",
    "outliers": "At least one reading does not belong with the others.",
    "eccentricity-near-zero": "So little run-out that its direction cannot be told from noise.",
    "scatter-borrowed": "An axis was touched once only: its scatter is that of the others, and theirs may be another.",
    "unequal-sides": "The two faces of a pair were not touched equally often: centre and width share an error.",
    "trend-with-length": "Longer tools differ more than short ones: one offset for all is not the whole truth.",
    "worn": "Worn beyond what is watched for; not broken yet.",
    "close-call": "So close to a tolerance that the doubt reaches over it.",
    "no-reversal": "Without the touches at 180° the ball's offset from the spindle axis stays unknown.",
    "short-arc": "The touches span less than half a circle, so centre and radius hang together.",
    "drift": "The readings drift as they are taken; let the machine settle.",
    "changed-since": "Not what the record before says, beyond both doubts.",
    "temperature-assumed": "Nobody read the temperature that day: it is assumed, and so is what it makes of the "
    "master.",
    "scatter-below-resolution": "The readings scatter less than the display can show.",
}

#: What flags say of the doubt itself, told with the advice too: nobody may read the number without it.
_TOLD = ("master-without-uncertainty", "temperature-assumed")
