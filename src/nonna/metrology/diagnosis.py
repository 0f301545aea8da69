"""The fewest faults that explain what changed: exact Gaussian marginal likelihoods over sets of hidden faults.

Each fault is absent, or its size is normal about zero with a known spread; observations are sums of sizes with known factors
and errors. Sources: Mitchell & Beauchamp, J. Amer. Statist. Assoc. 83 (1988) 1023-1032 (spike and slab); Lindley, Ann. Math.
Statist. 27 (1956) 986-1005 (the information an observation is expected to give).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray
from scipy import special

Array: TypeAlias = NDArray[np.float64]

AT_ONCE, MOST, WEIGHT = 3, 6, 16.0  #: sets tried all, faults at most, ln weight that still carries
MOST_SETS, NEARLY_ALL = 120, 1.0 - 1e-7  #: looked at for the next observation
_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(48)  #: Gauss and Hermite's, about each set's prediction
_WEIGHTS = _WEIGHTS / _WEIGHTS.sum()


@dataclass(frozen=True, slots=True)
class JudgedFault:
    """One fault: how likely, and how large with its u in the likeliest set that holds it."""

    probability: float
    size: float
    u: float


@dataclass(frozen=True, slots=True)
class Posterior:
    """Sets of faults (by index) with their probabilities, the likeliest first."""

    sets: tuple[tuple[int, ...], ...]
    weights: Array


def groups(a: Array) -> list[tuple[NDArray[np.intp], NDArray[np.intp]]]:
    """Return the parts (observations, faults) that share nothing, however indirectly.

    Parameters: a (observations, faults), the effect of a unit of each fault.
    """
    left, parts = set(range(a.shape[1])), []
    while left:
        faults: set[int] = {min(left)}
        rows: set[int] = set()
        while True:
            seen = set(np.flatnonzero((a[:, sorted(faults)] != 0.0).any(axis=1)).tolist())
            more = set(np.flatnonzero((a[sorted(seen)] != 0.0).any(axis=0)).tolist()) if seen else set()
            if seen == rows and more <= faults:
                break
            rows, faults = seen, faults | more
        left -= faults
        parts.append((np.array(sorted(rows), dtype=np.intp), np.array(sorted(faults), dtype=np.intp)))
    return parts


class FaultGroup:
    """One such part, its sets weighed."""

    def __init__(self, y: Array, u: Array, a: Array, spread: Array, prior: Array) -> None:
        """Weigh the sets.

        Parameters: y, u (observations,); a (observations, faults); spread (faults,), standard deviation of a size that is
        there; prior (faults,), probability that it is.
        """
        scaled = a * spread / u[:, None]
        self._spread = spread
        self._gram = scaled.T @ scaled
        self._pull = scaled.T @ (y / u)
        self._odds = np.log(prior) - np.log1p(-prior)
        self.posterior = self._weighed()

    def _weighed(self) -> Posterior:
        count = self._pull.size
        found: dict[tuple[int, ...], float] = {(): 0.0}
        for k in range(1, min(AT_ONCE, count) + 1):
            self._try(list(itertools.combinations(range(count), k)), found)
        for k in range(AT_ONCE, min(MOST, count)):
            best = max(found.values())
            grown = {
                tuple(sorted((*each, f)))
                for each, weight in found.items()
                if len(each) == k and weight >= best - WEIGHT
                for f in range(count)
                if f not in each
            }
            self._try(sorted(grown - found.keys()), found)
        sets = tuple(sorted(found, key=lambda each: (-found[each], len(each), each)))
        logs = np.array([found[each] for each in sets])
        weights = np.exp(logs - logs.max())
        return Posterior(sets, weights / weights.sum())

    def _try(self, sets: list[tuple[int, ...]], found: dict[tuple[int, ...], float]) -> None:
        """Add ln weights, against the empty set: ln of the odds, less half ln det, plus half of what is explained."""
        for begin in range(0, len(sets), 20_000):
            part = np.array(sets[begin : begin + 20_000], dtype=np.intp)
            if not part.size:
                return
            k = part.shape[1]
            inner = self._gram[part[:, :, None], part[:, None, :]] + np.eye(k)
            pull = self._pull[part]
            solved = np.linalg.solve(inner, pull[:, :, None])[:, :, 0]
            _, logdet = np.linalg.slogdet(inner)
            logs = self._odds[part].sum(axis=1) - 0.5 * logdet + 0.5 * (pull * solved).sum(axis=1)
            found.update(zip(map(tuple, part.tolist()), logs.tolist(), strict=True))

    def sizes(self, faults: tuple[int, ...]) -> tuple[Array, Array]:
        """Return the sizes (k,) of a set's faults and their covariance (k, k)."""
        at = np.array(faults, dtype=np.intp)
        inverse = np.linalg.inv(self._gram[np.ix_(at, at)] + np.eye(at.size)) if at.size else np.zeros((0, 0))
        spread = self._spread[at]
        return spread * (inverse @ self._pull[at]), inverse * np.outer(spread, spread)

    def judged(self, fault: int) -> JudgedFault:
        """Return how likely a fault is and how large."""
        holding = [i for i, each in enumerate(self.posterior.sets) if fault in each]
        likeliest = self.posterior.sets[holding[0]]
        sizes, covariance = self.sizes(likeliest)
        k = likeliest.index(fault)
        return JudgedFault(
            float(self.posterior.weights[holding].sum()), float(sizes[k]), math.sqrt(float(covariance[k, k]))
        )

    @property
    def none(self) -> float:
        """Probability that no fault is there."""
        return float(self.posterior.weights[self.posterior.sets.index(())])

    @cached_property
    def _likely(self) -> list[tuple[float, NDArray[np.intp], Array, Array]]:
        """The sets that make up nearly all of the probability: weight, faults, sizes, covariance."""
        found, reached = [], 0.0
        for each, weight in zip(self.posterior.sets[:MOST_SETS], self.posterior.weights.tolist(), strict=False):
            found.append((weight, np.array(each, dtype=np.intp), *self.sizes(each)))
            reached += weight
            if reached > NEARLY_ALL:
                break
        return found

    def predicted(self, row: Array) -> list[tuple[float, float, float]]:
        """Return weight, mean and variance of one more observation's truth, set by set, of those that carry weight."""
        found = []
        for weight, faults, sizes, covariance in self._likely:
            part = row[faults]
            found.append((weight, float(part @ sizes), float(part @ covariance @ part)))
        return found


def information(parts: Sequence[Sequence[tuple[float, float, float]]], u: float) -> float:
    """Return how much (nats) the entropy over sets is expected to fall by one more observation.

    Parameters: parts, of each group that it looks at (weight, mean, variance) set by set; u of the observation. It is
    what it may show tells of the sets: the mean of ln p(shown | set) - ln p(shown), by Gauss and Hermite's quadrature.
    """
    mixed = [(1.0, 0.0, u * u)]
    for part in parts:
        mixed = [(w * v, m + n, s + t) for w, m, s in mixed for v, n, t in part]
        mixed = sorted(mixed, reverse=True)[:MOST_SETS]
    weights, means, variances = (np.array(each) for each in zip(*mixed, strict=True))
    weights, deviations = weights / weights.sum(), np.sqrt(variances)
    shown = means[:, None] + deviations[:, None] * _NODES  # what each set would show, at the nodes
    away = (shown[:, :, None] - means) / deviations
    logs = np.log(weights) - np.log(deviations) - 0.5 * away * away
    mixture = special.logsumexp(logs, axis=2)
    own = -np.log(deviations)[:, None] - 0.5 * _NODES**2
    return max(0.0, float(weights @ ((own - mixture) @ _WEIGHTS)))
