"""Coverage of the stated 95 % intervals with many cases, by the simulator the tests use."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from tests.procedures import test_coverage_simulation as simulation
from tests.support.chains import CHAINS, share
from tests.support.simulators import SIMULATORS, truth_of
from tests.support.simulators import history as history_of

from nonna.procedures.catalogue import evaluate

CASES, CHAINED = 10_000, 3_000


def figures() -> Iterator[str]:
    """Give the share of intervals that hold the truth, by kind, touches and history."""
    simulation.CASES = CASES
    for kind in ("tool-length", "setter-calibration"):
        for history in (False, True):
            rng = np.random.default_rng(1)
            shares = [100 * simulation.hits(rng, n, history, kind) for n in (2, 3, 4, 5)]
            words = ", ".join(f"{share:.1f}" for share in shares)
            known = "with history" if history else "from the touches alone"
            yield (
                f"{kind} {known}: {words} % hold the truth with 2, 3, 4, 5 touches (mean {np.mean(shares):.1f}; "
                "wanted 94-96, never < 92.5)"
            )
    for kind, simulate in SIMULATORS.items():
        for use in (False, True):
            rng = np.random.default_rng(2)
            inside: dict[str, int] = {}
            tried: dict[str, int] = {}
            for i in range(CASES):
                document, truth = simulate(rng, 2 + i % 4, history_of(rng, use))
                result = evaluate(document)
                for name, value in truth.items():
                    e = result.quantity(name).estimate
                    if e is not None:
                        tried[name] = tried.get(name, 0) + 1
                        inside[name] = inside.get(name, 0) + (abs(e.value - truth_of(value, result)) <= e.expanded)
            words = ", ".join(f"{name} {100 * inside.get(name, 0) / n:.1f}" for name, n in tried.items())
            yield f"{kind} {'with history' if use else 'from the readings alone'}: {words} %"
    for chain in CHAINS:
        for use in (False, True):
            words = ", ".join(f"{100 * share(chain, n, use, CHAINED):.1f}" for n in (2, 3, 4, 5))
            known = "with history" if use else "from the touches alone"
            yield (
                f"whole chain to {chain}, {known}: {words} % with 2, 3, 4, 5 touches a link; wanted 94-96, with "
                "2 touches 92.5-97"
            )
