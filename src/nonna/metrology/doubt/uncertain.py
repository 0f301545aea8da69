"""Uncertain numbers with a budget: GTC carries the influences, this names and groups them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

from nonna.errors import NoRepeatabilityError
from nonna.metrology.doubt.coverage import Shape, Source, coverage_factor, effective_dof
from nonna.metrology.lazy_scipy import gtc

_GTC: Any = gtc()
rp, ureal, value_of = _GTC.rp, _GTC.ureal, _GTC.value

Uncertain: TypeAlias = Any  #: a GTC uncertain real number, or a plain float that counts as exact


@dataclass(frozen=True, slots=True)
class BudgetRow:
    """One line of an uncertainty budget."""

    source: str
    u: float
    share: float  #: of the variance; the shares of a budget sum to 1
    dof: float
    shape: Shape
    field: str = ""  #: where its value stands in the readings file; "" for what the readings themselves scatter
    sign: int = 1  #: of its error in the result, where it is one influence


@dataclass(frozen=True, slots=True)
class Estimate:
    """A value with everything that is known of its doubt."""

    value: float
    u: float
    dof: float
    k: float
    k1: float  #: one-sided 95 % factor, for guard bands
    budget: tuple[BudgetRow, ...]

    @property
    def expanded(self) -> float:
        """Expanded uncertainty U = k u."""
        return self.k * self.u

    def part(self, *without: str) -> tuple[Source, ...]:
        """Return the sources of this estimate but those whose values stand in these fields."""
        return tuple(Source(r.source, r.u, r.dof, r.shape) for r in self.budget if r.field not in without)


@dataclass(slots=True)
class _Influence:
    number: Uncertain
    name: str
    dof: float
    shape: Shape
    field: str
    pool: str  #: name of the estimate of scatter it rests on


class Influences:
    """The independent influences of one evaluation, each with a name.

    Influences that share a name (or a pool) share one estimate of scatter: they count as one source with one set
    of degrees of freedom, though their errors are independent (Willink, Metrologia 44 (2007) 340-349).
    """

    def __init__(self) -> None:
        self._rows: list[_Influence] = []

    def add(
        self,
        name: str,
        value: float,
        u: float,
        dof: float = math.inf,
        shape: Shape = "normal",
        field: str = "",
        pool: str = "",
    ) -> Uncertain:
        """Return value as an uncertain number; a zero u gives the plain value, which counts as exact.

        Parameters: field, where the value stands in the readings file ("" for what was measured here): by it the
        doubt that two results share is found later; pool, another source whose estimate of scatter it shares.
        Raises: ValueError (u negative or not finite).
        """
        return self.add_together(name, [value], [u], dof, shape, field, pool)[0]

    def add_together(
        self,
        name: str,
        values: Sequence[float],
        us: Sequence[float],
        dof: float = math.inf,
        shape: Shape = "normal",
        field: str = "",
        pool: str = "",
    ) -> list[Uncertain]:
        """Return several values whose scatter comes from one pooled estimate.

        Parameters: values (n,), us (n,) of the same source. Raises: ValueError (u negative or not finite).
        """
        if any(not (u >= 0.0 and math.isfinite(u)) for u in us):
            raise ValueError(f"{name}: a standard uncertainty must be a finite number from 0 up, not {us}")
        numbers: list[Uncertain] = list(values)
        for i, u in enumerate(us):
            if u > 0.0:  # GTC carries values and sensitivities; degrees of freedom are counted here, below 1 too
                numbers[i] = ureal(values[i], u)
                self._rows.append(_Influence(numbers[i], name, dof, shape, field, pool or name))
        return numbers

    def covariance(self, a: Uncertain, b: Uncertain) -> float:
        """Return the covariance of two numbers made from these influences: the variance where both are one."""
        if not (hasattr(a, "u_component") and hasattr(b, "u_component")):
            return 0.0
        return math.fsum(
            float(rp.u_component(a, row.number)) * float(rp.u_component(b, row.number)) for row in self._rows
        )

    def estimate(self, number: Uncertain) -> Estimate:
        """Return value, u, dof, k and budget of a number made from these influences.

        Raises: NoRepeatabilityError (nothing uncertain in it, or a doubt so small that it vanishes).
        """
        if not hasattr(number, "u_component"):
            raise NoRepeatabilityError()
        found: dict[tuple[str, float, str], list[float]] = {}
        shapes: dict[tuple[str, float, str], Shape] = {}
        for row in self._rows:
            component = float(rp.u_component(number, row.number))
            if component != 0.0:
                key = (row.name, row.dof, row.field)
                found.setdefault(key, []).append(component)
                shapes[key] = row.shape
        total = math.hypot(*(part for parts in found.values() for part in parts))
        if total <= 0.0:
            raise NoRepeatabilityError()
        budget = tuple(
            BudgetRow(
                name, u := math.hypot(*parts), (u / total) ** 2, dof, shapes[name, dof, field], field,
                -1 if len(parts) == 1 and parts[0] < 0.0 else 1,
            )
            for (name, dof, field), parts in found.items()
        )  # fmt: skip
        sources = self._sources(budget)
        return Estimate(
            value=float(value_of(number)),
            u=total,
            dof=effective_dof(sources),
            k=coverage_factor(sources, 0.975),
            k1=coverage_factor(sources, 0.95),
            budget=budget,
        )

    def _sources(self, budget: Sequence[BudgetRow]) -> list[Source]:
        """Return a budget's rows with those that rest on one estimate of scatter taken together."""
        pools = {(row.name, row.dof): row.pool for row in self._rows}
        found: dict[tuple[str, float, Shape], list[float]] = {}
        for row in budget:
            found.setdefault((pools[row.source, row.dof], row.dof, row.shape), []).append(row.u)
        return [Source(name, math.hypot(*us), dof, shape) for (name, dof, shape), us in found.items()]
