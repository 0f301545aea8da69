"""The way of the tips through a lathe, from the front: what stands there, what was rapid, what searched, where it
stopped.
"""

from __future__ import annotations

from collections.abc import Sequence

from nonna.figures.figure import Figure, Ink, Label, Line, Stroke, box
from nonna.standin.contact import Problem
from nonna.stations.lathe.turret import Leg, Thing

AROUND_MM = 30.0
_INKS: dict[str, Ink] = {"chuck": "steel-dark", "part": "master", "tailstock": "steel", "arm": "pad"}


def way_figure(way: Sequence[Leg], things: Sequence[Thing], stops: Sequence[Problem]) -> Figure:
    """Draw the way of a program; Z to the right (the chuck stands left), X upwards from the spindle's axis, to
    scale.
    """
    places = [place for leg in way for place in (leg.start, leg.end)] or [(0.0, 0.0)]
    solid = [thing for thing in things if thing.name in ("part", "arm")]
    xs = [p[0] for p in places] + [v for t in solid for v in (t.box.low[0], t.box.high[0])]
    zs = [p[1] for p in places] + [v for t in solid for v in (t.box.low[2], t.box.high[2])]
    low, high = (min(*zs, 0.0) - AROUND_MM, min(*xs, -20.0) - AROUND_MM), (max(zs) + AROUND_MM, max(xs) + AROUND_MM)
    strokes: list[Stroke] = []
    for thing in things:
        a, b = thing.box.low, thing.box.high
        left, right = max(a[2], low[0]), min(b[2], high[0])
        bottom, top = max(a[0], low[1]), min(b[0], high[1])
        if left < right and bottom < top:
            strokes.append(box(left, bottom, right, top, _INKS.get(thing.name, "steel"), None))
            strokes.append(Label(((left + right) / 2, top), thing.name, "muted", 13, dy=-6))
    strokes.append(Line((low[0], 0.0), (high[0], 0.0), "muted", 1.0, dashed=True))
    for leg in way:
        ink: Ink = (
            "bad" if leg.stopped else "accent" if leg.way == "search" else "ink" if leg.way == "feed" else "muted"
        )
        width = 3.0 if leg.stopped or leg.way == "search" else 1.5
        strokes.append(Line(leg.start[::-1], leg.end[::-1], ink, width, dashed=leg.way == "rapid"))
    said = stops[0].message if stops else "dashed: rapid; bold: searching for the arm"
    return Figure("The way of the tips, from the front", (*low, *high), tuple(strokes), f"to scale; {said}")
