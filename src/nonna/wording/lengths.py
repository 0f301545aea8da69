"""Lengths and doubts in words: digits that mean something, in the unit the person reads."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import ClassVar, Self

MM_PER_INCH = 25.4
MINUS = "−"


@dataclass(frozen=True, slots=True)
class Units:
    """What lengths are shown in; inside the program they are millimetres."""

    value: str  #: ``mm`` or ``inch``
    coarse: bool = False  #: a digit fewer behind the point

    MM: ClassVar[Self]
    INCH: ClassVar[Self]

    @property
    def metric(self) -> bool:
        """Whether they are millimetres."""
        return self.value == "mm"

    @property
    def fine(self) -> Self:
        """The same with every digit: for what is shown to be changed and read back."""
        return replace(self, coarse=False)

    @property
    def scale(self) -> float:
        """How many of this unit make a millimetre."""
        return 1.0 if self.metric else 1.0 / MM_PER_INCH

    @property
    def symbol(self) -> str:
        """What stands behind a number."""
        return "mm" if self.metric else "in"

    @property
    def decimals(self) -> int:
        """Digits for a position or a length: a tenth of a micrometre or 10 µin, coarse ten times that."""
        return (4 if self.metric else 5) - self.coarse

    @property
    def small_symbol(self) -> str:
        """What stands behind a small deviation: micrometres, or ten-thousandths' millionths of an inch."""
        return "µm" if self.metric else "µin"

    @property
    def small_scale(self) -> float:
        """How many small units make a millimetre."""
        return 1e3 if self.metric else 1e6 / MM_PER_INCH

    @property
    def other(self) -> Self:
        """The other one, with as many digits that mean something."""
        return replace(self, value="inch" if self.metric else "mm")


Units.MM, Units.INCH = Units("mm"), Units("inch")


def number(value: float, decimals: int, *, sign: bool = False) -> str:
    """Return value with so many decimals, a true minus sign and never a minus zero."""
    text = f"{abs(value):.{decimals}f}"
    if float(text) == 0.0:
        return text
    return (MINUS if value < 0 else "+" if sign else "") + text


def length(mm: float, units: Units, *, unit: bool = True, sign: bool = False) -> str:
    """Return a position or a length, such as ``−312.4051 mm``."""
    text = number(mm * units.scale, units.decimals, sign=sign)
    return f"{text} {units.symbol}" if unit else text


def small(mm: float, units: Units, *, unit: bool = True, sign: bool = False) -> str:
    """Return a deviation in the small unit with two digits that mean something, such as ``1.4 µm``."""
    value = mm * units.small_scale
    decimals = small_decimals(value)
    text = number(value, decimals, sign=sign)
    return f"{text} {units.small_symbol}" if unit else text


def small_decimals(value: float) -> int:
    """Return how many decimals show two significant digits of value; never more than 3."""
    size = abs(value)
    if size == 0.0 or size >= 10.0:
        return 0 if size else 1
    return min(3, 1 - math.floor(math.log10(size)))


def feed(mm_min: float, units: Units) -> str:
    """Return a feed's number with two digits at least that mean something: ``600``, ``0.25``, ``0.014``."""
    shown = mm_min * units.scale
    if abs(shown) >= 10.0:
        return number(shown, 0 if units.metric else 1)
    return number(shown, max(2, small_decimals(shown)))


def with_doubt(mm: float, expanded: float, units: Units) -> str:
    """Return ``−312.4051 ± 0.0014 mm``, the doubt with two digits and the value cut to match."""
    doubt = expanded * units.scale
    decimals = max(0, min(7, 1 - math.floor(math.log10(doubt)))) if doubt > 0.0 else units.decimals
    return f"{number(mm * units.scale, decimals)} ± {number(doubt, decimals)} {units.symbol}"
