"""Differences of signed results: errors common to both cancel, with the doubt that is left."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

from nonna.bench.book.shared_doubt import Leaf, Read, leaves
from nonna.errors import NoRepeatabilityError
from nonna.metrology.doubt.coverage import Source, coverage_factor, effective_dof
from nonna.metrology.doubt.uncertain import BudgetRow, Estimate
from nonna.procedures.listing import PROCEDURES
from nonna.shop.records.values import Measurement

ROUNDING = 1e-12  # of the largest part: what is left where two parts cancel


def estimate(leaves_: Iterable[Leaf], value: float) -> Estimate:
    """Return a value whose doubt is the sum of these leaves, those with one key added up with their signs.

    Raises: NoRepeatabilityError (nothing is left that is uncertain).
    """
    parts: dict[tuple[object, ...], tuple[Leaf, float]] = {}
    for leaf in leaves_:
        parts[leaf.key] = (leaf, parts.get(leaf.key, (leaf, 0.0))[1] + leaf.part)
    largest = max((abs(leaf.part) for leaf, _ in parts.values()), default=0.0)
    sources = [
        Source(f"{leaf.source}, {PROCEDURES[leaf.procedure].title.lower()}", abs(part), leaf.dof, leaf.shape)  # type: ignore[arg-type]
        for leaf, part in parts.values()
        if abs(part) > ROUNDING * largest
    ]
    total = math.hypot(*(s.u for s in sources))
    if total <= 0.0:
        raise NoRepeatabilityError("Nothing is left in doubt between the two: they are one and the same.")
    return Estimate(
        value, total, effective_dof(sources), coverage_factor(sources), coverage_factor(sources, 0.95),
        tuple(BudgetRow(s.name, s.u, (s.u / total) ** 2, s.dof, s.shape) for s in sources),
    )  # fmt: skip


def difference(first: Measurement, second: Measurement, name: str, read: Read, name_second: str = "") -> Estimate:
    """Return ``first - second`` of one result (or of two that are named), what both share cancelled.

    Raises: KeyError (a record without that result), NonnaError (a record below is damaged, or nothing is uncertain).
    """
    other = name_second or name
    values = [float(r.result.results[n].value) for r, n in ((first, name), (second, other))]
    mine, theirs = leaves(first, name, read), leaves(second, other, read)
    minus = (replace(leaf, part=-leaf.part) for leaf in theirs)
    return estimate((*mine, *minus), values[0] - values[1])
