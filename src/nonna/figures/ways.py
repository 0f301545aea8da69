"""Two ways to measure each tool, drawn against its tolerance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.figures.figure import Circle, Figure, Label, Line, Polygon, Stroke, box
from nonna.wording.lengths import Units, small

ROW, LIMIT, MOST = 10.0, 50.0, 95.0  #: height of a row; where the tolerance and the end of the bar stand


@dataclass(frozen=True, slots=True)
class WayRow:
    """One tool: what each way would be good for (mm, None: it cannot be done), its tolerance, the choice and minutes in
    words.
    """

    name: str
    tolerance: float
    presetter: float | None
    setter: float | None
    choice: str
    words: str


def ways_figure(rows: Sequence[WayRow], units: Units) -> Figure:
    """Draw a row a tool: a disc for the presetter and a square for the setter at their share of the tolerance.

    Both left of the line: either will do. The window is 170 wide; beyond twice the tolerance everything stands at the
    end.
    """
    high = ROW * max(len(rows), 1)
    strokes: list[Stroke] = [box(0, 0, LIMIT, high, "wash", None), Line((LIMIT, -2), (LIMIT, high + 2), "ink", 2.0)]
    strokes.append(Label((LIMIT, high + 2), "its tolerance", "ink", 13, True, dy=-4))
    strokes.append(Label((0, high + 2), "good enough", "muted", 13, anchor="left", dy=-4))
    for i, row in enumerate(rows):
        y = high - ROW * (i + 0.5)
        strokes.append(Line((0, y), (MOST, y), "faint", 1.0))
        strokes.append(Label((-2, y), row.name, "ink", 14, True, "right", dy=5))
        for value, is_presetter in ((row.setter, False), (row.presetter, True)):
            if value is None:
                continue
            x = min(MOST, LIMIT * value / row.tolerance)
            taken = row.choice == ("presetter" if is_presetter else "setter")
            if is_presetter:
                strokes.append(Circle((x, y), 7, "accent" if taken else "paper", "accent", 2.0, dot=True))
            else:
                strokes.append(_square(x, y, taken=taken))
        strokes.append(Label((100, y), row.words, "bad" if row.choice == "neither" else "ink", 14, anchor="left", dy=5))
        strokes.append(Label((-2, y), f"± {small(row.tolerance, units)}", "muted", 12, anchor="right", dx=-118, dy=5))
    note = "disc: presetter; square: setter; filled: the way to go"
    return Figure(
        "What a length would be good for, as a share of its tolerance", (-62, -4, 170, high + 8), tuple(strokes), note
    )


def _square(x: float, y: float, *, taken: bool) -> Polygon:
    side = 2.0
    return Polygon(
        ((x - side, y - side), (x + side, y - side), (x + side, y + side), (x - side, y + side)),
        "accent" if taken else "paper", "accent", 2.0,
    )  # fmt: skip
