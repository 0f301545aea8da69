"""Decision rules: a limit, a value, its doubt, and what may honestly be said.

Source: ISO 14253-1 and JCGM 106 (guarded acceptance with a one-sided risk of 5 %).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

RuleKind = Literal["guarded", "simple"]
RISK = 0.05


class Verdict(StrEnum):
    """What a result says against its limits."""

    PASS = "pass"
    FAIL = "fail"
    UNDECIDED = "undecided"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class Rule:
    """How a value with doubt meets a limit."""

    kind: RuleKind = "guarded"

    def to_document(self) -> dict[str, str | float | None]:
        """Return the rule as it stands in a result."""
        return {"kind": self.kind, "risk": RISK if self.kind == "guarded" else None}

    def words(self) -> str:
        """Return the rule in one plain clause."""
        if self.kind == "guarded":
            return "guarded: the limit must hold with the doubt included, 5 % one-sided risk"
        return "simple: the value alone meets the limit, its doubt is not counted"


def decide(value: float, limit: float | None, guard: float, rule: Rule) -> Verdict:
    """Judge |value| against limit; guard is k1 u (0 for a value without an uncertainty).

    Notes: guarded: pass if |value| + g <= limit, fail if |value| - g > limit, else undecided.
    """
    if limit is None:
        return Verdict.NONE
    size = abs(value)
    if rule.kind == "simple":
        return Verdict.PASS if size <= limit else Verdict.FAIL
    if size + guard <= limit:
        return Verdict.PASS
    return Verdict.FAIL if size - guard > limit else Verdict.UNDECIDED


def decide_interval(low: float, value: float, high: float, limit: float | None, rule: Rule) -> Verdict:
    """Judge a value whose one-sided 5 % bounds are known (a standard deviation by chi-square)."""
    if limit is None:
        return Verdict.NONE
    if rule.kind == "simple":
        return Verdict.PASS if value <= limit else Verdict.FAIL
    if high <= limit:
        return Verdict.PASS
    return Verdict.FAIL if low > limit else Verdict.UNDECIDED


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """Combine several limits: fail if any fails, else undecided if any is, else pass; none without any."""
    seen = set(verdicts) - {Verdict.NONE}
    for verdict in (Verdict.FAIL, Verdict.UNDECIDED, Verdict.PASS):
        if verdict in seen:
            return verdict
    return Verdict.NONE
