"""Uncertain numbers with a budget: GTC carries the influences, this names and groups them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

from GTC import multiple_ureal, rp, ureal
from GTC import value as value_of

from nonna.metrology.coverage import Shape, Source, coverage_factor, effective_dof

Uncertain: TypeAlias = Any  #: a GTC uncertain real number, or a plain float that counts as exact


@dataclass(frozen=True, slots=True)
class BudgetRow:
    """One line of an uncertainty budget."""

    source: str
    u: float
    share: float  #: of the variance; the shares of a budget sum to 1
    dof: float
    shape: Shape


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


@dataclass(slots=True)
class _Influence:
    number: Uncertain
    name: str
    dof: float
    shape: Shape


class Influences:
    """The independent influences of one evaluation, each with a name.

    Influences that share a name share one estimate of scatter: they count as one source with one set of
    degrees of freedom, though their errors are independent (Willink, Metrologia 44 (2007) 340-349).
    """

    def __init__(self) -> None:
        self._rows: list[_Influence] = []

    def add(self, name: str, value: float, u: float, dof: float = math.inf, shape: Shape = "normal") -> Uncertain:
        """Return value as an uncertain number; a zero u gives the plain value, which counts as exact.

        Raises: ValueError (u negative or not finite).
        """
        return self.add_together(name, [value], [u], dof, shape)[0]

    def add_together(
        self,
        name: str,
        values: Sequence[float],
        us: Sequence[float],
        dof: float = math.inf,
        shape: Shape = "normal",
    ) -> list[Uncertain]:
        """Return several values whose scatter comes from one pooled estimate.

        Parameters: values (n,), us (n,) of the same source. Raises: ValueError (u negative or not finite).
        """
        if any(not (u >= 0.0 and math.isfinite(u)) for u in us):
            raise ValueError(f"{name}: a standard uncertainty must be a finite number from 0 up, not {us}")
        live = [i for i, u in enumerate(us) if u > 0.0]
        numbers: list[Uncertain] = list(values)
        if len(live) > 1 and not math.isinf(dof):
            made = multiple_ureal([values[i] for i in live], [us[i] for i in live], dof)
        else:
            made = [ureal(values[i], us[i], dof) for i in live]
        for i, number in zip(live, made, strict=True):
            numbers[i] = number
            self._rows.append(_Influence(number, name, dof, shape))
        return numbers

    def estimate(self, number: Uncertain) -> Estimate:
        """Return value, u, dof, k and budget of a number made from these influences.

        Raises: ValueError (nothing uncertain in it).
        """
        if not hasattr(number, "u_component"):
            raise ValueError("nothing uncertain in this number")
        variances: dict[tuple[str, float], tuple[float, Shape]] = {}
        for row in self._rows:
            component = float(rp.u_component(number, row.number))
            if component != 0.0:
                key = (row.name, row.dof)
                before = variances.get(key, (0.0, row.shape))[0]
                variances[key] = (before + component**2, row.shape)
        sources = [Source(name, math.sqrt(v), dof, shape) for (name, dof), (v, shape) in variances.items() if v > 0.0]
        total = sum(s.u**2 for s in sources)
        if total <= 0.0:
            raise ValueError("nothing uncertain in this number")
        return Estimate(
            value=float(value_of(number)),
            u=math.sqrt(total),
            dof=effective_dof(sources),
            k=coverage_factor(sources, 0.975),
            k1=coverage_factor(sources, 0.95),
            budget=tuple(BudgetRow(s.name, s.u, s.u**2 / total, s.dof, s.shape) for s in sources),
        )
