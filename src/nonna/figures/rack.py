"""A rack of pockets from above and from the side; what is off the row is drawn larger than it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, exaggeration
from nonna.wording.lengths import Units, small

WIDE, PLAN, SIDE = 160.0, 62.0, 18.0  #: mm of the drawing: its width, height of the two views' middle lines
REACH = 14.0  #: the largest deviation reaches so far


def rack_figure(
    pockets: Sequence[Mapping[str, Any]], begun: int, units: Units, before: Sequence[Mapping[str, Any]] = ()
) -> Figure:
    """Draw the row.

    Parameters: pockets as a result lists them (mm), in the order of their numbers; begun, how many were touched so
    far while there is no result; before, the pockets of the record before: drawn as rings where there is a new one.
    """
    window = (-14.0, -8.0, WIDE + 14.0, 92.0)
    title = "The row from above, and from the side"
    strokes: list[Stroke] = [
        Line((0, PLAN), (WIDE, PLAN), "muted", 1.0, dashed=True),
        Line((0, SIDE), (WIDE, SIDE), "muted", 1.0, dashed=True),
        Label((-12, PLAN + 22), "from above", "muted", 13, anchor="left"),
        Label((-12, SIDE + 22), "from the side", "muted", 13, anchor="left"),
    ]
    if not pockets and before:
        drawn = rack_figure(before, 0, units)
        words = f"{begun} begun; " if begun else ""
        return Figure(f"{title}: {words}as it was measured last", window, drawn.strokes, drawn.scale_note)
    if not pockets:
        words = (
            f"{begun} pocket{'' if begun == 1 else 's'} begun; three make a row"
            if begun
            else "each pocket will stand here"
        )
        strokes.append(Label((WIDE / 2, PLAN), words, "muted", 14, dy=-10))
        return Figure(title, window, tuple(strokes), "not to scale")
    numbers = [int(p["pocket"]) for p in pockets]
    step = WIDE / max(numbers[-1] - numbers[0], 1)
    was = {int(p["pocket"]): p for p in before}
    seen = [*pockets, *(was[n] for n in numbers if n in was)]
    worst = max(max(abs(p[name]) for name in ("along_mm", "across_mm", "height_mm")) for p in seen)
    scale = REACH / max(worst, 1e-4)
    for number, p in zip(numbers, pockets, strict=True):
        x = (number - numbers[0]) * step
        ink: Ink = "bad" if p["set_aside"] else "accent"
        above = (x + p["along_mm"] * scale, PLAN + p["across_mm"] * scale)
        beside = (x, SIDE + p["height_mm"] * scale)
        if number in was:
            old = was[number]
            strokes += [
                Circle((x + old["along_mm"] * scale, PLAN + old["across_mm"] * scale), 9, None, "muted", 1.5, dot=True),
                Circle((x, SIDE + old["height_mm"] * scale), 9, None, "muted", 1.5, dot=True),
            ]
        strokes += [
            Circle((x, PLAN), 4, None, "faint", 1.5),
            Line((x, PLAN), above, ink, 2.5),
            Circle(above, 6, ink if p["set_aside"] else "paper", ink, 2.0, dot=True),
            Line((x, SIDE), beside, ink, 2.5),
            Circle(beside, 6, ink if p["set_aside"] else "paper", ink, 2.0, dot=True),
            Label(
                (x, -4), str(number), ink if p["set_aside"] else "muted", 15 if p["set_aside"] else 13, p["set_aside"]
            ),
        ]
        if p["set_aside"]:
            off = (p["along_mm"] ** 2 + p["across_mm"] ** 2) ** 0.5
            strokes.append(Label((above[0], above[1]), f"bent, {small(off, units)}", "bad", 14, True, dy=-12))
    pitch = abs(pockets[-1]["x_mm"] - pockets[0]["x_mm"]) + abs(pockets[-1]["y_mm"] - pockets[0]["y_mm"])
    along = WIDE / pitch if pitch > 0 else 1.0
    rings = "; rings: before" if was else ""
    return Figure(title, window, tuple(strokes), f"deviations {exaggeration(scale / along)}{rings}")
