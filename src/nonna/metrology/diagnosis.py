"""The fewest faults that explain what changed: exact Gaussian marginal likelihoods over sets of hidden faults.

Each fault is absent, or its size is normal about zero with a known spread; observations are sums of sizes with known
factors and errors. Sources: Mitchell & Beauchamp, J. Amer. Statist. Assoc. 83 (1988) 1023-1032 (spike and slab);
Lindley, Ann. Math. Statist. 27 (1956) 986-1005 (the information an observation is expected to give).
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
MOST_TRIED_ALL = (
    120  #: faults in a part of which all sets of three are tried; of more, those that two of weight lead to
)
MOST_GROWN = 30_000  #: sets of a size that are tried by growing smaller ones, from the heaviest on
MOST_SETS, NEARLY_ALL = 30, 1.0 - 1e-4  #: looked at for the next observation
SELDOM = 0.002  #: chances that coincide less often than this are not reckoned with
FEW_SETS, FEW_NODES, NODES = 10, 8, 20  #: at a first glance; Gauss and Hermite's nodes then, and in the end


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

        Parameters: y, u (observations,); a (observations, faults); spread (faults,), standard deviation of a size that
        is there; prior (faults,), probability that it is.
        """
        scaled = a * spread / u[:, None]
        self._spread = spread
        self._gram = scaled.T @ scaled
        self._pull = scaled.T @ (y / u)
        self._odds = np.log(prior) - np.log1p(-prior)
        self.bounded = spread.size > MOST_TRIED_ALL  #: whether some sets of three were left out
        self.posterior = self._weighed()

    def _weighed(self) -> Posterior:
        count = self._pull.size
        found: dict[tuple[int, ...], float] = {(): 0.0}
        at_once = min(AT_ONCE - self.bounded, count)
        for k in range(1, at_once + 1):
            every = itertools.chain.from_iterable(itertools.combinations(range(count), k))
            self._try(np.fromiter(every, dtype=np.intp).reshape(-1, k), found)
        for k in range(at_once, min(MOST, count)):
            best = max(found.values())
            heavy = [(weight, each) for each, weight in found.items() if len(each) == k and weight >= best - WEIGHT]
            heavy = sorted(heavy, reverse=True)[: max(1, MOST_GROWN // count)]
            if heavy:
                self._try(_grown(np.array([each for _, each in heavy], dtype=np.intp), count), found)
        sets = tuple(sorted(found, key=lambda each: (-found[each], len(each), each)))
        logs = np.array([found[each] for each in sets])
        weights = np.exp(logs - logs.max())
        return Posterior(sets, weights / weights.sum())

    def _try(self, sets: NDArray[np.intp], found: dict[tuple[int, ...], float]) -> None:
        """Add ln weights, against the empty set: ln of the odds, less half ln det, plus half of what is explained.

        Parameters: sets (n, k), the faults of each in order.
        """
        k = sets.shape[1]
        for begin in range(0, len(sets), 20_000):
            part = sets[begin : begin + 20_000]
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
        probability, first = self._held[fault]
        likeliest = self.posterior.sets[first]
        sizes, covariance = self.sizes(likeliest)
        k = likeliest.index(fault)
        return JudgedFault(probability, float(sizes[k]), math.sqrt(float(covariance[k, k])))

    @cached_property
    def _held(self) -> dict[int, tuple[float, int]]:
        """By fault: the probability of the sets that hold it, and the place of the likeliest of them."""
        found: dict[int, tuple[float, int]] = {}
        for i, (each, weight) in enumerate(zip(self.posterior.sets, self.posterior.weights.tolist(), strict=True)):
            for fault in each:
                so_far, first = found.get(fault, (0.0, i))
                found[fault] = (so_far + weight, first)
        return found

    def only(self, faults: frozenset[int] = frozenset()) -> float:
        """Return the probability that no fault is there but perhaps some of these."""
        sets = self.posterior.sets
        return float(sum(self.posterior.weights[i] for i, each in enumerate(sets) if faults.issuperset(each)))

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


def _grown(sets: NDArray[np.intp], count: int) -> NDArray[np.intp]:
    """Return all sets (m, k + 1) that one fault more makes of these (n, k), each once and in order."""
    more = np.tile(np.arange(count, dtype=np.intp), len(sets))
    base = np.repeat(sets, count, axis=0)
    fresh = (base != more[:, None]).all(axis=1)
    grown: NDArray[np.intp] = np.unique(np.sort(np.column_stack((base[fresh], more[fresh])), axis=1), axis=0)
    return grown


def information(
    parts: Sequence[Sequence[tuple[float, float, float]]], u: float, chances: Sequence[tuple[float, float]] = (),
    *, glance: bool = False,
) -> float:  # fmt: skip
    """Return how much (nats) the entropy over sets is expected to fall by one more observation.

    Parameters: parts, of each group that it looks at (weight, mean, variance) set by set; u of the observation;
    chances, (probability, standard deviation) of what may be false in it besides, each by itself. It is what it may
    show tells of the sets: the mean of ln p(shown | set) - ln p(shown), by Gauss and Hermite's quadrature. ``glance``:
    of the likeliest sets alone, roughly.
    """
    nodes, node_weights = np.polynomial.hermite_e.hermegauss(FEW_NODES if glance else NODES)
    node_weights = node_weights / node_weights.sum()
    most = FEW_SETS if glance else MOST_SETS
    mixed = [(1.0, 0.0, 0.0)]
    for part in parts:
        mixed = [(w * v, m + n, s + t) for w, m, s in mixed for v, n, t in part]
        mixed = sorted(mixed, reverse=True)[:most]
    weights, means, variances = (np.array(each) for each in zip(*mixed, strict=True))
    weights = weights / weights.sum()
    noise = [(1.0, u * u)]
    for chance, spread in chances:
        noise = [(p * q, v + w) for p, v in noise for q, w in ((1.0 - chance, 0.0), (chance, spread * spread))]
    noise = [(p, v) for p, v in noise if p >= SELDOM]
    shares, extra = (np.array(each) for each in zip(*noise, strict=True))
    shares = shares / shares.sum()
    deviations = np.sqrt(variances[:, None] + extra)  # (sets, noises)
    gain = 0.0
    for j, share in enumerate(shares.tolist()):
        shown = means[:, None] + deviations[:, j : j + 1] * nodes  # what each set would show, at the nodes
        away = (shown[:, :, None, None] - means[:, None]) / deviations
        logs = special.logsumexp(np.log(shares) - np.log(deviations) - 0.5 * away * away, axis=3)  # (sets, nodes, sets)
        own = np.take_along_axis(logs, np.arange(means.size)[:, None, None], axis=2)[:, :, 0]
        mixture = special.logsumexp(np.log(weights) + logs, axis=2)
        gain += share * float(weights @ ((own - mixture) @ node_weights))
    return max(0.0, gain)
