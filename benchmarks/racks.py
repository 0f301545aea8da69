"""Racks of pockets: are the bent clips set aside, and the sound ones left alone?"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from nonna.metrology.shapes.pocket_row import bent

RACKS = 2_000
TOUCH_MM, LEAST_BEND = 0.004, 6.0  #: scatter of one touch; a bent clip stands off by more than so many of it


def figures() -> Iterator[str]:
    """Give the share of racks of 6 to 20 pockets that were judged rightly."""
    for known in (False, True):
        dice = np.random.default_rng(20261126)
        right = wrong = 0
        for _ in range(RACKS):
            numbers, places = _row(dice)
            wrong += bool(bent(numbers, places, TOUCH_MM if known else 0.0))
            which = dice.choice(numbers.size, int(dice.integers(1, 3)), replace=False)
            for k in which:
                way = dice.normal(size=3)
                places[k] += way / np.linalg.norm(way) * TOUCH_MM * LEAST_BEND * dice.uniform(1.0, 3.0)
            right += set(bent(numbers, places, TOUCH_MM if known else 0.0)) == {int(k) for k in which}
        words = "with the repeatability known" if known else "from the row alone"
        yield (
            f"racks {words}: {100 * right / RACKS:.1f} % with one or two bent clips have just those set aside (wanted "
            ">= 97), "
            f"{100 * wrong / RACKS:.1f} % of sound ones any (wanted <= 2)"
        )


def _row(dice: Generator) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """A straight row as it is measured: a pair of touches an axis, two on top."""
    numbers = np.arange(1.0, dice.integers(6, 21) + 1)
    turn = dice.uniform(0.0, 6.28)
    step = np.array([60.0 * np.cos(turn), 60.0 * np.sin(turn), 0.02])
    return numbers, np.outer(numbers, step) + dice.normal(0.0, TOUCH_MM / np.sqrt(2.0), (numbers.size, 3))
