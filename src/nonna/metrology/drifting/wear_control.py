"""What a tool's wear should be for the next part: damped, limited, never inside the doubt, never after a break."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

State = Literal["leave", "correct", "stop"]


@dataclass(frozen=True, slots=True)
class NextWear:
    """The wear for the next part."""

    wear: float  #: as the machine shows it, mm
    state: State
    limited: bool = False  #: whether the step was cut to the largest allowed


def next_wear(
    old: float,
    error: float,
    expanded: float,
    factor: float,
    *,
    gain: float,
    step_limit: float = math.inf,
    stop: float = math.inf,
) -> NextWear:
    """Return the wear for the next part.

    Parameters: old, the wear now (as shown, mm; more of it sends the axis to a larger X); error, size less nominal
    (real, mm) with its expanded uncertainty; factor, what turns a shown X difference into a real one; gain, the share
    of the error taken away at once; step_limit, of the wear as shown; stop, an error beyond which nothing is corrected.
    Notes: a larger X makes an outside and an inside diameter alike larger, so the sign is the same for both.
    """
    if abs(error) > stop:
        return NextWear(old, "stop")
    if abs(error) <= expanded:
        return NextWear(old, "leave")
    return stepped(old, -gain * error / (2.0 * factor), step_limit)


def stepped(old: float, step: float, step_limit: float) -> NextWear:
    """Return a wear one step on, the step cut to the largest allowed; all as shown."""
    if abs(step) > step_limit:
        return NextWear(old + math.copysign(step_limit, step), "correct", True)
    return NextWear(old + step, "correct")
