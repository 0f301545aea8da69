"""What a stand-in machine tells of a run: what was touched, and what must not happen on a real one."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.programs.language.drive import Position


@dataclass(frozen=True, slots=True)
class Contact:
    """One touch."""

    line: int
    tool: int
    position: Position
    feed_mm_min: float
    face: str
    what: str = "setter"  #: or the obstacle's name
    rpm: float = 0.0
    probed: bool = True  #: False: it was hit by a move that was no search
    edge: int = 0  #: the one edge of several that was turned to it


@dataclass(frozen=True, slots=True)
class Problem:
    """Something that must not happen on a real machine."""

    code: str
    severity: str
    line: int
    tool: int
    message: str
