"""Lengths in every school: from the gauge line, from a reference tool, from the probe; changed without loss.

Tables are changed in decimal arithmetic, so that going there and back gives the very digits one started with.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum

from nonna.errors import NonnaError


class School(StrEnum):
    """What a table's lengths are counted from."""

    ABSOLUTE = "absolute"  #: from the gauge line: a certified master behind it
    RELATIVE = "relative"  #: from a reference tool, whose own row is 0
    PROBE = "probe"  #: from the probe, whose own row is 0


@dataclass(frozen=True, slots=True)
class LengthTable:
    """Lengths by tool, mm, and what they are counted from."""

    school: School
    lengths: Mapping[str, Decimal]
    zero: Decimal = Decimal(0)  #: length from the gauge line of what counts as 0

    @classmethod
    def absolute(cls, lengths: Mapping[str, float]) -> LengthTable:
        """Make a table of lengths from the gauge line."""
        return cls(School.ABSOLUTE, {name: Decimal(repr(value)) for name, value in lengths.items()})

    def floats(self) -> dict[str, float]:
        """Return the lengths as plain numbers."""
        return {name: float(value) for name, value in self.lengths.items()}


def changed(table: LengthTable, school: School, zero_mm: float | Decimal = 0.0) -> LengthTable:
    """Return the table in another school.

    Parameters: zero_mm, the length from the gauge line of the reference tool or the probe; must be 0 for absolute.
    Raises: NonnaError ``out-of-range`` (a zero where none belongs).
    """
    zero = zero_mm if isinstance(zero_mm, Decimal) else Decimal(repr(float(zero_mm)))
    if school is School.ABSOLUTE and zero != 0:
        raise NonnaError("out-of-range", "Lengths from the gauge line have no other zero.", "zero_mm")
    lengths = {name: value + table.zero - zero for name, value in table.lengths.items()}
    return LengthTable(school, lengths, zero)


def shifted(table: LengthTable, amount_mm: float, only: Collection[str] = ()) -> LengthTable:
    """Return the table with an amount added to all lengths, or to some.

    Raises: NonnaError ``missing-field`` (a tool that is not in the table).
    """
    missing = set(only) - set(table.lengths)
    if missing:
        raise NonnaError("missing-field", "{names}: not in this table.", "only", names=", ".join(sorted(missing)))
    amount = Decimal(repr(float(amount_mm)))
    lengths = {n: v + amount if not only or n in only else v for n, v in table.lengths.items()}
    return replace(table, lengths=lengths)


@dataclass(frozen=True, slots=True)
class Doubts:
    """What lengths of a school are good for, standard uncertainties in mm."""

    own: Mapping[str, float]  #: by tool, what it does not share with the others
    common: float  #: the same error in every length: said once


def doubts(own: Mapping[str, float], common_mm: float, school: School, zero_u_mm: float = 0.0) -> Doubts:
    """Split the doubt of a table's lengths into each tool's own and what all share.

    Parameters: own, by tool; common_mm, of the trigger plane; zero_u_mm, the own doubt of the reference tool or probe.
    Notes: counted from a reference, the plane's error cancels and the reference's own error becomes the common one
    (JCGM 102, 5; differences of correlated quantities).
    """
    return Doubts(dict(own), common_mm if school is School.ABSOLUTE else zero_u_mm)


def whole(found: Doubts, name: str) -> float:
    """Return the standard uncertainty of one length with everything in it."""
    return math.hypot(found.own[name], found.common)
