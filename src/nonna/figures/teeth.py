"""A cutter's teeth from below, how far each stands back behind the longest."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke
from nonna.wording.lengths import Units, small

RADIUS, BAR = 36.0, 22.0


def teeth_figure(teeth: int, taken: Collection[int], back: Mapping[int, float], units: Units) -> Figure:
    """Draw the teeth.

    Parameters: teeth, how many; taken, those touched; back, how far each stands behind the longest (mm).
    """
    largest = max([*back.values(), 1e-4])
    strokes: list[Stroke] = [
        Circle((0, 0), RADIUS, "steel", "muted"), Circle((0, 0), 3, "ink", None, dot=True),
    ]  # fmt: skip
    for tooth in range(1, teeth + 1):
        t = math.radians(90.0 - 360.0 * (tooth - 1) / teeth)
        way = (math.cos(t), math.sin(t))
        ink: Ink = "accent" if tooth in taken else "muted"
        out = RADIUS + BAR * (1.0 - back[tooth] / largest) if tooth in back else RADIUS + 4.0
        longest = tooth in back and back[tooth] == 0.0
        strokes.append(
            Line((way[0] * RADIUS, way[1] * RADIUS), (way[0] * out, way[1] * out), "bad" if longest else ink, 6.0)
        )
        strokes.append(Label((way[0] * (RADIUS - 9), way[1] * (RADIUS - 9)), str(tooth), "ink", 15, True, dy=5))
        if tooth in back:
            words = "longest" if longest else small(-back[tooth], units)
            strokes.append(
                Label(
                    (way[0] * (RADIUS + BAR + 9), way[1] * (RADIUS + BAR + 7)),
                    words,
                    "bad" if longest else "accent",
                    14,
                    dy=5,
                )
            )
    note = (
        f"from below; bars not to scale: the shortest stands {small(largest, units)} back"
        if back
        else "from below, schematic"
    )
    return Figure("How far each tooth stands out", (-86, -76, 86, 76), tuple(strokes), note)
