"""What a record says when it is read again: from its own text alone, whatever the program works out today."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import Source, coverage_factor
from nonna.metrology.doubt.decision import Rule, Verdict
from nonna.metrology.doubt.uncertain import BudgetRow, Estimate
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.telling import signed_words, words_of
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.values import Influence, Measurement, Record, ResultRow

_TOLD_APART = ("format", "procedure", "results", "budget", "verdict", "rule", "flags", "advice")


def must_be_measured(record: Record) -> Measurement:
    """Return a measurement; all else has no certificate. Raises: NonnaError ``wrong-format``."""
    if not isinstance(record, Measurement):
        words = "Record {number} is no measurement; it has no certificate."
        raise NonnaError("wrong-format", words, "record", number=record.number)
    return record


def read_back(record: Measurement) -> Evaluation:
    """Return the evaluation as it was signed.

    Raises: DamagedRecordError (its parts do not fit each other, or it holds words that cannot be said).
    """
    try:
        found = _recalled(record)
        for said in (found.headline, *found.advice):
            words_of(said)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError, ArithmeticError) as error:
        raise DamagedRecordError(record.number, f"it holds no result that can be read ({error})") from error
    return found


def contradiction(record: Record) -> str:
    """Say where a record contradicts itself, "" where it does not: its verdict and its checks, its main value and its
    results.
    """
    if not isinstance(record, Measurement):
        return ""
    try:
        found = read_back(record)
    except DamagedRecordError as error:
        return error.reason
    if not record.verdict == record.result.verdict == found.verdict.value:
        return "its verdict is not that of its own checks"
    if any(check.verdict is Verdict.PASS and check.value > check.limit for check in found.checks):
        return "it passes a check whose limit it does not keep"
    rows = record.result.results.values()
    if record.value_mm is not None and record.value_mm not in {row.value for row in rows}:
        return "its main value is none of its results"
    if record.expanded_mm is not None and record.expanded_mm not in {row.expanded for row in rows}:
        return "its main value is none of its results"
    return ""


def _recalled(record: Measurement) -> Evaluation:
    result = record.result
    quantities = []
    for name, title in record.order:
        row = result.results[name]
        estimate = _estimate(row, record.influences[name]) if row.u is not None else None
        quantities.append(Quantity(name, title, row.value, row.unit, estimate))
    return Evaluation(
        result.procedure,
        tuple(quantities),
        Rule(result.rule.kind),
        signed_words(record.headline.template, record.headline.lengths),
        None,
        checks=tuple(Check(**row.model_dump() | {"verdict": Verdict(row.verdict)}) for row in record.checks),
        flags=result.flags,
        advice=tuple(signed_words("{words}", {"words": words}) for words in result.advice[1:]),
        extras={name: value for name, value in result.more.items() if name not in _TOLD_APART},
    )


def _estimate(row: ResultRow, influences: Sequence[Influence]) -> Estimate:
    assert row.u is not None and row.k is not None
    dofs = [math.inf if i.dof is None else float(i.dof) for i in influences]
    sources = [Source(i.source, i.u, dof, i.shape) for i, dof in zip(influences, dofs, strict=True)]
    budget = tuple(BudgetRow(s.name, s.u, s.u**2 / row.u**2, s.dof, s.shape) for s in sources)
    dof = math.inf if row.dof is None else float(row.dof)
    return Estimate(row.value, row.u, dof, row.k, coverage_factor(sources, 0.95), budget)
