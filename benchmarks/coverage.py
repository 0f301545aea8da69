"""Coverage of the stated 95 % intervals with many cases, by the simulator the tests use."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from tests import test_coverage_simulation as simulation


def figures() -> Iterator[str]:
    """Give the share of intervals that hold the truth, by kind, touches and history."""
    simulation.CASES = 10_000
    for kind in ("tool-length", "setter-calibration"):
        for history in (False, True):
            rng = np.random.default_rng(1)
            shares = [100 * simulation.hits(rng, n, history, kind) for n in (2, 3, 4, 5)]
            words = ", ".join(f"{share:.1f}" for share in shares)
            known = "with history" if history else "from the touches alone"
            yield f"{kind} {known}: {words} % hold the truth with 2, 3, 4, 5 touches (mean {np.mean(shares):.1f}; wanted 94-96, never < 92.5)"
