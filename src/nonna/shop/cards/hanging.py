"""What hangs in the spindle as cylinders below the gauge line: the tool, its holder, and the spindle's nose above."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeAlias

from nonna.shop.cards.machine import HolderPart, SpindleNose

Holder: TypeAlias = tuple[tuple[float, float], ...]  #: diameter and length of its parts from the gauge line down, mm


@dataclass(frozen=True, slots=True)
class Part:
    """A cylinder about the spindle's axis, mm."""

    words: str
    top: float  #: how far below the gauge line it begins; negative: above it
    foot: float  #: ... and ends
    radius: float


def holder_of(parts: Sequence[HolderPart]) -> Holder:
    """Return a holder as its file describes it."""
    return tuple((part.diameter_mm, part.length_mm) for part in parts)


def parts(length: float, diameter: float, holder: Holder, nose: SpindleNose | None) -> tuple[Part, ...]:
    """Return what hangs in the spindle, the tool first; a holder not described is taken as wide as the tool.

    Parameters: length from the gauge line and diameter of the tool (mm).
    """
    found, deep = [], 0.0
    for wide, long in holder:
        foot = min(deep + long, length)
        found.append(Part("its holder", deep, foot, wide / 2.0))
        deep = foot
    if nose is not None:
        found.append(Part("the spindle nose", -nose.nose_length_mm, 0.0, nose.nose_diameter_mm / 2.0))
    return (Part("the tool", deep, length, diameter / 2.0), *found)
