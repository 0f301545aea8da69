"""Dialling out run-out: which screw, how far the dial shall drop, and how far that is at the key."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

COARSE_SHARE = 0.8  #: of a full correction while it is far out, so that it does not overshoot
FINE_RESOLUTIONS = 3.0  #: below so many steps of the dial, all of it
WORTH = 0.25  #: a second screw is worth turning when its part is more than this share of the first's
SQUARE_DEG = 20.0  #: screws within this of a right angle make a second axis
SAME_DEG = 1.0


@dataclass(frozen=True, slots=True)
class Correction:
    """One screw to tighten (its opposite eased) until the dial there has dropped so far."""

    screw_deg: float
    opposite_deg: float | None
    drop_mm: float
    key_deg: float | None = None  #: turn of the key, where earlier passes taught what a degree does


@dataclass(frozen=True, slots=True)
class Pass:
    """One pass: what was measured, and what was turned after it (degrees of key by screw)."""

    a_mm: float
    b_mm: float
    turned: Mapping[float, float] = field(default_factory=dict)


def moves(
    a_mm: float, b_mm: float, screws_deg: Sequence[float], resolution_mm: float, earlier: Sequence[Pass] = ()
) -> tuple[Correction, ...]:
    """Advise the next turn or two of the screws.

    Parameters: a_mm, b_mm, first harmonic of the dial (high spot at atan2(b, a)); screws_deg, where the
    screws are; resolution_mm of the dial; earlier, the passes before this one with what was turned.
    Notes: a full correction at a screw drops the dial there by ``e cos(angle between)``, never more than
    e = half the run-out; 80 % of it on coarse passes, all of it when the run-out is below 3 resolutions.
    """
    e, high = math.hypot(a_mm, b_mm), math.degrees(math.atan2(b_mm, a_mm))
    if not screws_deg or e == 0.0:
        return ()
    share = 1.0 if 2.0 * e < FINE_RESOLUTIONS * resolution_mm else COARSE_SHARE
    gains = learned_gains([*earlier, Pass(a_mm, b_mm)])
    first = min(screws_deg, key=lambda screw: abs(apart(screw, high)))
    found = [first]
    if e > FINE_RESOLUTIONS * resolution_mm:
        side = [s for s in screws_deg if abs(abs(apart(s, first)) - 90.0) <= SQUARE_DEG and abs(apart(s, high)) < 90.0]
        second = min(side, key=lambda screw: abs(apart(screw, high)), default=None)
        if second is not None and _part(second, high) > WORTH * _part(first, high):
            found.append(second)
    made = []
    for screw in found:
        drop = min(e, share * e * max(0.0, _part(screw, high)))
        gain = gains.get(_axis(screw))
        key = drop / gain if gain else None
        made.append(Correction(screw, _opposite(screw, screws_deg), drop, key))
    return tuple(move for move in made if move.drop_mm > 0.0)


def learned_gains(passes: Sequence[Pass]) -> dict[float, float]:
    """Return mm of movement a degree of key for each screw axis, keyed by its direction modulo 180°.

    The movement is the change of the first harmonic along the axis from one pass to the next; several
    passes are pooled by least squares through the origin. Axes that never moved the right way are left out.
    """
    sums: dict[float, tuple[float, float]] = {}
    for before, after in pairwise(passes):
        for screw, key in before.turned.items():
            if key == 0.0:
                continue
            t = math.radians(screw)
            moved = (before.a_mm - after.a_mm) * math.cos(t) + (before.b_mm - after.b_mm) * math.sin(t)
            xy, xx = sums.get(_axis(screw), (0.0, 0.0))
            sums[_axis(screw)] = (xy + moved * key, xx + key * key)
    return {axis: xy / xx for axis, (xy, xx) in sums.items() if xx > 0.0 and xy > 0.0}


def apart(one_deg: float, other_deg: float) -> float:
    """Return the angle from other to one, between -180 and 180 degrees."""
    return (one_deg - other_deg + 180.0) % 360.0 - 180.0


def passes_left(sizes: Sequence[float], wanted: float) -> int | None:
    """Predict how many more passes bring a deviation within what is wanted; None when it does not shrink.

    Parameters: sizes, the deviation after each pass so far, newest last. The shrinking from pass to pass
    (geometric mean of the last two) is taken to go on.
    """
    now = abs(sizes[-1])
    if now <= wanted:
        return 0
    if len(sizes) < 2:
        return None
    last = [abs(s) for s in sizes[-3:]]
    shrinking = (last[-1] / last[0]) ** (1.0 / (len(last) - 1)) if last[0] > 0.0 else 1.0
    if shrinking >= 0.95 or wanted <= 0.0:
        return None
    if shrinking == 0.0:
        return 1
    return max(1, math.ceil(math.log(wanted / now) / math.log(shrinking)))


def _part(screw: float, high: float) -> float:
    return math.cos(math.radians(apart(screw, high)))


def _axis(screw: float) -> float:
    return round(screw % 180.0, 3)


def _opposite(screw: float, screws: Sequence[float]) -> float | None:
    return next((s for s in screws if abs(abs(apart(s, screw)) - 180.0) <= SAME_DEG), None)
