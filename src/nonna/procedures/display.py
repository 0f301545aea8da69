"""The smallest step a display shows, from the readings a person typed off it."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.wording.lengths import MM_PER_INCH

FEWEST = 2  #: readings; a single one may well end in a nought
STEPS_MM = (0.1, 0.01, 0.001, 0.0001, 0.00001)
STEPS_INCH = (0.01, 0.001, 0.0001, 0.00001)
_NEAR = 1e-6  #: of a step: what binary fractions leave of a decimal number


def display_step(values_mm: Sequence[float]) -> float:
    """Return the coarsest decimal step, of a millimetre or of an inch, that all readings are whole numbers of (mm).

    A reading typed to two digits is known to two digits, whatever the display could show. 0.0 where there are too few
    readings, or they are whole numbers of none.
    """
    if len(values_mm) < FEWEST:
        return 0.0
    fitting = [step for step in STEPS_MM if _whole(values_mm, step)]
    fitting += [step * MM_PER_INCH for step in STEPS_INCH if _whole(values_mm, step * MM_PER_INCH)]
    return max(fitting, default=0.0)


def _whole(values: Sequence[float], step: float) -> bool:
    return all(
        abs(value / step - round(value / step)) <= _NEAR * max(1.0, abs(value / step) * 1e-3) for value in values
    )
