"""A batch of parts on the stand-in lathe: an insert that wears while it cuts, a part that gives way, now and then a
break.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nonna.procedures.shown import XShows, real_per_shown

PARTS = 50
BREAK_MM = 0.15  #: what a diameter becomes too large by when the edge is gone


@dataclass(frozen=True, slots=True)
class Batch:
    """What would come of parts without any correction, and what a probe would read too much of each; mm, diameters."""

    errors: NDArray[np.float64]  #: size less nominal
    read: NDArray[np.float64]  #: what each measurement is off
    broken_at: int | None  #: part with which the insert broke, None where it lasted

    @classmethod
    def of(cls, seed: int, number: int, *, u_mm: float, parts: int = PARTS, breaks: bool = False) -> Batch:
        """Return a batch of an insert. Parameters: u_mm, standard uncertainty of a measured size; breaks, whether it
        breaks.
        """
        dice = np.random.default_rng([seed, number, 55])
        at = np.arange(parts)
        run_in, rate = float(dice.uniform(0.002, 0.006)), float(dice.uniform(0.0003, 0.0012))
        errors = float(dice.normal(0.0, 0.003)) + run_in * (1.0 - np.exp(-at / 4.0)) + rate * at
        errors += dice.normal(0.0, float(dice.uniform(0.0008, 0.0018)), parts)  # each part gives way as it likes
        broken = int(dice.integers(parts // 3, parts)) if breaks else None
        if broken is not None:
            errors = errors + BREAK_MM * (at >= broken)
        return cls(errors, dice.normal(0.0, u_mm, parts), broken)

    def cut(self, shows: XShows) -> Iterator[_Cut]:
        """Yield part after part; each is cut with the wear that stands when its size is asked for."""
        for error, read in zip(self.errors, self.read, strict=True):
            yield _Cut(float(error), float(read), real_per_shown("x", shows))


@dataclass(frozen=True, slots=True)
class _Cut:
    error: float
    read: float
    factor: float

    def with_wear(self, wear: float) -> float:
        """Return its true error when cut with a wear, as shown: more of it makes an outside and an inside larger."""
        return self.error + 2.0 * self.factor * wear

    def measured(self, wear: float) -> float:
        """Return the error that the probe finds."""
        return self.with_wear(wear) + self.read
