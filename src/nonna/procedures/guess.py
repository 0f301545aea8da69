"""About what a reading should be by the others, with the doubt of that."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.metrology.doubt.fits import LinearFit

USUAL_TOUCH_MM = 0.002  #: scatter of a touch nobody has measured yet


@dataclass(frozen=True, slots=True)
class Guess:
    """About what a reading should be by the others: value and standard uncertainty (mm), freedom of that."""

    value: float
    u: float
    dof: float


def guess_at_spot(values: list[float], known_s: float) -> Guess | None:
    """Return the guess that readings of the same spot give for one more; None without any."""
    n = len(values)
    if n == 0:
        return None
    mean = math.fsum(values) / n
    here = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1)) if n > 1 else 0.0
    s = max(here, known_s or USUAL_TOUCH_MM)
    return Guess(mean, s * math.sqrt(1.0 + 1.0 / n), math.inf if n == 1 or here <= s else n - 1)


def guess_by_fit(fit: LinearFit, weights: Sequence[float]) -> Guess:
    """Return the guess that a fit through the other readings gives at another place."""
    value = math.fsum(w * float(c) for w, c in zip(weights, fit.coefficients, strict=True))
    s = max(math.sqrt(fit.scatter.variance), USUAL_TOUCH_MM)
    return Guess(value, s * math.hypot(1.0, fit.u(*weights)), max(1, fit.scatter.dof))
