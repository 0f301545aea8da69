"""How fast a tool wears from check to check, and how many pieces are left in it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.quantiles import student_t
from nonna.metrology.doubt.series import fit_trend


@dataclass(frozen=True, slots=True)
class Wear:
    """A straight line through the changes of length found by the checks, oldest first."""

    rate_mm: float  #: a check, negative when it wears
    u_rate_mm: float
    checks: int
    left: float | None  #: checks left until the limit, None when it does not wear
    left_at_least: float | None  #: one-sided 95 %
    seen: bool  #: whether it wears beyond what scatter makes of so few checks, one-sided 95 %


def wear(changes_mm: Sequence[float], limit_mm: float) -> Wear:
    """Fit the wear of a tool.

    Parameters: changes_mm (n,), n >= 3, length less reference at each check; limit_mm, shorter by more is worn out (>
    0). Raises: TooFewReadingsError (n < 3). Source: as `fit_trend`.
    """
    if len(changes_mm) < 3:
        raise TooFewReadingsError("Wear needs at least 3 checks, not {count}.", count=len(changes_mm))
    line = fit_trend(changes_mm)
    now = math.fsum(changes_mm) / len(changes_mm) + line.per_touch * (len(changes_mm) - 1) / 2.0
    room = max(0.0, limit_mm + now)
    doubt = student_t(0.95, line.dof) * line.u
    steepest = line.per_touch - doubt
    left = room / -line.per_touch if line.per_touch < 0.0 else None
    at_least = room / -steepest if steepest < 0.0 else None
    return Wear(line.per_touch, line.u, len(changes_mm), left, at_least, line.per_touch + doubt < 0.0)
