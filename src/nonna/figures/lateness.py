"""Drawing of a trigger's lateness: where it latched, against the feed."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.figures.figure import Circle, Figure, Label, Line, Stroke, box
from nonna.wording.lengths import Units, small

WIDE, HIGH = 120.0, 60.0


def late_line(
    touches: Sequence[tuple[float, float]],
    line: tuple[float, float] | None,
    feeds: Sequence[float],
    units: Units = Units.MM,
) -> Figure:
    """Draw positions against feeds and the line through them.

    Parameters: touches as (mm/min, mm); line as (plane at no speed, mm; slope, s), None before it is known; feeds that
    are wanted (mm/min), marked below.
    """
    fastest = max([*feeds, *(feed for feed, _ in touches)]) * 1.1
    strokes: list[Stroke] = [box(0, 0, WIDE, HIGH, "paper", None), Line((0, 0), (WIDE, 0), "muted", 1.0)]
    for feed in sorted({*feeds, *(feed for feed, _ in touches)}):
        x = WIDE * feed / fastest
        strokes += [Line((x, 0), (x, HIGH), "faint", 1.0), Label((x, -5), f"{feed:g}", "muted", 13)]
    strokes.append(Label((WIDE, -11), "mm/min", "muted", 13, anchor="right"))
    if not touches:
        strokes.append(Label((WIDE / 2, HIGH / 2), "each touch will stand above its feed", "muted", 14))
        return Figure("How late the trigger is", (-6, -15, WIDE + 6, HIGH + 6), tuple(strokes), "not to scale")
    centre = math.fsum(at for _, at in touches) / len(touches)
    heights = [at - centre for _, at in touches]
    if line is not None:
        heights += [line[0] - centre, line[0] + line[1] * fastest / 60.0 - centre]
    reach = max(*map(abs, heights), 1e-4) * 1.15

    def place(feed: float, at: float) -> tuple[float, float]:
        return WIDE * feed / fastest, HIGH / 2 + (at - centre) / reach * HIGH / 2

    if line is not None:
        plane, slope = line
        strokes += [
            Line(place(0.0, plane), (WIDE, place(0.0, plane)[1]), "muted", 1.0, dashed=True),
            Label((WIDE, place(0.0, plane)[1]), "plane at no speed", "muted", 13, anchor="right", dy=-6),
            Line(place(0.0, plane), place(fastest, plane + slope * fastest / 60.0), "accent", 2.0),
        ]
    strokes += [Circle(place(feed, at), 5, "paper", "accent", 2.0, dot=True) for feed, at in touches]
    return Figure(
        "How late the trigger is",
        (-6, -15, WIDE + 6, HIGH + 6),
        tuple(strokes),
        f"height stretched: the full height is {small(2 * reach, units)}",
    )
