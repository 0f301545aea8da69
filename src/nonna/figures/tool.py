"""Drawings of tools beside the setter, of changes of length, and of two distributions."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Polygon, Span, Stroke, box
from nonna.wording.lengths import Units, length, small


def master_beside_pad(
    diameter: float, pad: float, asked: str, touched: Collection[str], faces: Collection[str], *, square: bool
) -> Figure:
    """Draw the master at the side of the pad that is asked for, from above, to scale; those touched are ticked off.

    Parameters: diameter and pad width, mm; faces, all that are touched.
    """
    r, half = max(diameter, 1.0) / 2, pad / 2
    reach = half + 2 * r + 4
    strokes: list[Stroke] = [
        box(-half, -half, half, half, "pad", "muted") if square else Circle((0, 0), half, "pad", "muted")
    ]
    for face in faces:
        sign, on = 1 if face[0] == "+" else -1, face == asked
        way = (sign, 0) if face[1] == "x" else (0, sign)
        at = (way[0] * (half + r), way[1] * (half + r))
        strokes.append(Circle(at, r, "master" if on else None, "accent" if on else "faint", 2.5 if on else 1.0))
        done = face in touched
        words = f"{face} touched" if done and not on else face
        strokes.append(Label(at, words, "accent" if on else "muted", 17 if on else 13, on, dy=6))
        edge = (way[0] * half, way[1] * half)
        if on or done:
            strokes.append(Circle(edge, 7 if on else 5, "accent" if on else "muted", None, dot=True))
    return Figure(
        f"From above: the master at the {asked} side of the pad",
        (-reach, -reach, reach, reach),
        tuple(strokes),
        "to scale",
    )


def beside_pad(
    diameter: float, pad: float, sides: Collection[str], *, faces: Sequence[str], known: bool, units: Units,
    asked: str = ""
) -> Figure:  # fmt: skip
    """Draw the tool against the pad's faces that are to be touched, from above, to scale; sides were touched already.

    Parameters: asked, the one that is touched next.
    """
    r, half = max(diameter, 1.0) / 2, pad / 2
    reach = half + 2 * r + 6
    strokes: list[Stroke] = [box(-half, -half, half, half, "pad", None)]
    for side in faces:
        sign = 1 if side[0] == "+" else -1
        way = (sign, 0) if side[1] == "x" else (0, sign)
        at = (way[0] * (half + r), way[1] * (half + r))
        strokes.append(
            Circle(
                at,
                r,
                "wash" if side == asked else "steel",
                "accent" if side == asked else "ink",
                2.5 if side == asked else 1.5,
            )
        )
        strokes.append(Circle(at, 3, "ink", None, dot=True))
        strokes.append(
            Label((at[0], at[1] - r), side, "accent" if side in sides else "muted", 15, side in sides, dy=20)
        )
        if side in sides:
            strokes.append(Circle((way[0] * half, way[1] * half), 6, "accent", None, dot=True))
    words = length(diameter, units) if known else f"{length(diameter, units)} in the table"
    upright = any(face[1] == "y" for face in faces)
    high = half + 2 * r if upright else r
    middle = half + r if "+x" in faces else 0.0
    strokes.append(Span((middle - r, high + 3), (middle + r, high + 3), ""))
    strokes.append(Label((middle, high + 3), words, "accent", 15, True, dy=-8))
    low = -reach if upright else -r - 10
    return Figure(
        "The tool beside the setter's pad, from above", (-reach, low, reach, high + 14), tuple(strokes), "to scale"
    )


def change_band(
    short: float, long: float, wear: float, found: tuple[float, float] | None, state: str, units: Units
) -> Figure:
    """Draw a change of length between what counts as broken and pulled out; longer is up."""
    reach = max(short, long, 1e-4) * 1.5
    if found is not None:
        reach = max(reach, abs(found[0]) * 1.15)
    scale = 46.0 / reach

    def y(mm: float) -> float:
        return 50.0 + mm * scale

    strokes: list[Stroke] = [
        box(20, y(-short), 80, y(long), "wash", None),
        box(20, y(-short), 80, y(-wear), "paper", None) if 0.0 < wear < short else Line((20, 50), (20, 50), "faint"),
        Line((14, 50), (86, 50), "muted", 1.5),
        Line((14, y(-short)), (86, y(-short)), "bad", 2.0),
        Line((14, y(long)), (86, y(long)), "bad", 2.0),
        Label((88, y(long)), f"pulled out beyond {small(long, units)}", "bad", 14, anchor="left", dy=5),
        Label((88, y(-short)), f"broken beyond {small(short, units)}", "bad", 14, anchor="left", dy=5),
        Label((88, 50), "as it was", "muted", 14, anchor="left", dy=5),
    ]
    if 0.0 < wear < short:
        strokes.append(Label((88, y(-wear)), "worn", "due", 14, anchor="left", dy=5))
    if found is not None:
        ink: Ink = "bad" if state in ("broken", "pulled-out") else "due" if state == "worn" else "accent"
        strokes.append(Line((50, y(found[0] - found[1])), (50, y(found[0] + found[1])), ink, 5.0))
        strokes.append(Circle((50, y(found[0])), 8, ink, None, dot=True))
        strokes.append(Label((50, y(found[0])), small(found[0], units, sign=True), ink, 17, True, "right", -14, 6))
    elif state == "missing":
        strokes.append(Label((50, 12), "no trigger", "bad", 18, True))
    return Figure("Change of length", (0, 0, 150, 100), tuple(strokes), f"full height {small(2 * 50 / scale, units)}")


def two_distributions(sigma: float, drift: float, size: float, tolerance: float | None, units: Units) -> Figure:
    """Draw a good tool's and a broken tool's readings with the tolerance between; shorter is to the left."""
    low, high = -size - drift - 4 * sigma, drift + 4 * sigma
    span = high - low

    def x(mm: float) -> float:
        return 4 + 112 * (mm - low) / span

    def hill(middles: tuple[float, ...], ink: Ink) -> list[Stroke]:
        steps = [low + span * i / 160 for i in range(161)]
        heights = [max(math.exp(-0.5 * ((mm - m) / sigma) ** 2) for m in middles) for mm in steps]
        points = [
            (x(low), 8.0),
            *((x(mm), 8.0 + 50.0 * h) for mm, h in zip(steps, heights, strict=True)),
            (x(high), 8.0),
        ]
        return [Polygon(tuple(points), None, ink, 2.0)]

    strokes: list[Stroke] = [
        *hill((-drift, 0.0, drift) if drift else (0.0,), "accent"),
        *hill((-size - drift, -size, -size + drift) if drift else (-size,), "bad"),
        Label((x(0), 62), "a good tool", "accent", 15, True),
        Label((x(-size), 62), f"{small(size, units)} broken off", "bad", 15, True),
        Line((2, 8), (118, 8), "muted", 1.5),
    ]
    if tolerance is not None:
        strokes.append(Line((x(-tolerance), 4), (x(-tolerance), 70), "ink", 2.5, dashed=True))
        strokes.append(Label((x(-tolerance), 72), f"tolerance {small(tolerance, units)}", "ink", 15, True))
    return Figure(
        "What a check will read", (-16, 0, 136, 80), tuple(strokes), "heights not to scale; flat tops: drift either way"
    )
