"""The parts of a batch one after the other: error with its doubt, the tolerance band, corrections of the wear
marked.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box
from nonna.wording.lengths import Units, small

WIDE, HIGH = 240.0, 60.0
MOST_NAMED = 18  #: parts whose steps have room for a number
_SHAPES = {"correct": "accent", "leave": "muted", "stop": "bad", "": "muted"}


@dataclass(frozen=True, slots=True)
class PartPoint:
    """One part; mm."""

    error: float
    expanded: float
    state: str  #: what the wear control said: ``leave``, ``correct``, ``stop``; "" where it was not asked
    step: float  #: what the wear was changed by for the next part, as shown


def run_chart(
    points: Sequence[PartPoint], limits: tuple[float, float] | None, following: float | None, units: Units = Units.MM
) -> Figure:
    """Draw a batch, oldest part first.

    Parameters: limits, of the error (mm); following, about what the next part's error will be, drawn dashed.
    """
    low, high = limits or (0.0, 0.0)
    reach = max([abs(low), abs(high), *(abs(p.error) + p.expanded for p in points if p.state != "stop")], default=1e-3)
    reach = 1.2 * max(reach, 1e-4)
    count = len(points) + (following is not None)

    def x(i: int) -> float:
        return 8.0 + (WIDE - 16.0) * ((i + 0.5) / max(count, 1))

    def y(v: float) -> float:
        return HIGH / 2.0 + max(-1.0, min(1.0, v / reach)) * (HIGH / 2.0 - 3.0)

    strokes: list[Stroke] = [box(0, 0, WIDE, HIGH, "paper", None)]
    if limits is not None:
        strokes.append(box(0, y(low), WIDE, y(high), "wash", None))
        for value in limits:
            strokes.append(Line((0, y(value)), (WIDE, y(value)), "bad", 1.5))
            strokes.append(Label((WIDE + 2, y(value)), small(value, units, sign=True), "bad", 13, anchor="left", dy=5))
    strokes.append(Line((0, y(0.0)), (WIDE, y(0.0)), "muted", 1.0, dashed=True))
    for (i, a), (j, b) in pairwise(enumerate(points)):
        strokes.append(Line((x(i), y(a.error)), (x(j), y(b.error)), "faint", 1.5))
    for i, point in enumerate(points):
        ink: Ink = _SHAPES[point.state]  # type: ignore[assignment]
        strokes.append(Line((x(i), y(point.error - point.expanded)), (x(i), y(point.error + point.expanded)), ink, 2.0))
        if point.state == "stop":  # a cross: shape first
            strokes += [
                Line((x(i) - 2, y(point.error) - 2), (x(i) + 2, y(point.error) + 2), ink, 2.5),
                Line((x(i) - 2, y(point.error) + 2), (x(i) + 2, y(point.error) - 2), ink, 2.5),
            ]
            continue
        strokes.append(
            Circle((x(i), y(point.error)), 4.5, ink if point.state == "correct" else "paper", ink, 2.0, dot=True)
        )
        if point.state == "correct" and point.step:
            way = -1.0 if point.step < 0 else 1.0
            at = HIGH - 2.0 if way < 0 else 2.0
            strokes.append(Line((x(i) + 1.5, at), (x(i) + 1.5, at + 5 * way), "accent", 2.0))
            if count <= MOST_NAMED:
                step = small(point.step, units, unit=False, sign=True)
                strokes.append(Label((x(i) + 1.5, at), step, "accent", 12, dy=-6 if way < 0 else 16))
    if following is not None:
        strokes.append(Circle((x(len(points)), y(following)), 5.0, None, "accent", 1.5, dot=True))
        strokes.append(Label((x(len(points)), y(following)), "next", "accent", 12, dy=20))
    note = (
        f"filled: corrected by so many {units.small_symbol} of wear; open: left alone, inside its doubt; "
        "cross: no wear, look first"
    )
    return Figure("The parts, one after the other", (-4, -8, WIDE + 22, HIGH + 6), tuple(strokes), note)
