"""Drawings of what leans: a setter's pad from above, a light beam from the side and from above."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any

from nonna.figures.figure import Circle, Figure, Label, Line, Polygon, Stroke, box, exaggeration
from nonna.wording.lengths import Units, length, small

LEAN = 9.0  # how far the larger end is drawn off, whatever it really is


def face_figure(
    pad: tuple[float, float],
    places: Sequence[tuple[float, float]],
    readings: Sequence[Mapping[str, Any]],
    rises: tuple[float, ...] | None,
    screws: Sequence[tuple[str, float, float]],
    turn: Collection[str],
    units: Units,
) -> Figure:
    """Draw the pad from above with the dial at each place, and both its leans beneath.

    Parameters: pad, widths (mm); places, where the dial goes; rises, in X and Y (mm) once fitted; screws,
    (name, x, y); turn, names of those to turn. The window is 120 by 108.
    """
    scale = 23.0 / (max(pad) / 2)
    cx, cy = 60.0, 70.0

    def at(x: float, y: float) -> tuple[float, float]:
        return cx + x * scale, cy + y * scale

    half = (pad[0] / 2 * scale, pad[1] / 2 * scale)
    strokes: list[Stroke] = [box(cx - half[0], cy - half[1], cx + half[0], cy + half[1], "steel", "muted")]
    strokes += [Circle(at(x, y), 4, None, "muted", 1.5, dot=True) for x, y in places]
    for r in readings:
        spot = at(float(r["x_mm"]), float(r["y_mm"]))
        strokes.append(Circle(spot, 5, "accent", None, dot=True))
        strokes.append(Label(spot, small(float(r["value_mm"]), units, unit=False, sign=True), "ink", 14, True, dy=-10))
    taken = {(r["x_mm"], r["y_mm"]) for r in readings}
    following = next((p for p in places if p not in taken), None)
    if following is not None:
        strokes.append(Circle(at(*following), 9, None, "accent", 2.5, dot=True))
    for name, x, y in screws:
        on, near = name in turn, min(1.0, 34.0 / scale / max(abs(x), abs(y), 1e-9))
        spot = at(x * near, y * near)
        strokes.append(Circle(spot, 9, "accent" if on else "steel-dark", "ink", 1.5, dot=True))
        strokes.append(Label(spot, name, "accent" if on else "muted", 14, on, dy=26))
    largest = max(map(abs, rises)) if rises else 0.0
    for i, axis in enumerate("XY"):
        x0 = 4.0 + i * 62.0
        lean = rises[i] / largest * LEAN / 2 if rises and largest > 0.0 else 0.0
        strokes.append(Line((x0, 14), (x0 + 50, 14), "faint", 1.5, dashed=True))
        strokes.append(
            Polygon(((x0 + 4, 14 - lean), (x0 + 46, 14 + lean), (x0 + 46, 10 + lean), (x0 + 4, 10 - lean)), "pad", None)
        )
        words = f"along {axis}" + (f": {small(rises[i], units, sign=True)}" if rises else "")
        strokes.append(Label((x0 + 25, 0), words, "accent" if rises else "muted", 15, bool(rises)))
    factor = LEAN / 42.0 * max(pad) / largest if rises and largest > 0.0 else 0.0
    leans = "leans exaggerated" if factor == 0.0 else f"leans {exaggeration(factor)}"
    note = f"dial in {units.small_symbol}; pad to scale, screws nearer, {leans}"
    return Figure("The pad from above, and how it leans", (0, -6, 120, 108), tuple(strokes), note)


def beam_figure(span: float, taken: Mapping[str, int], found: tuple[float, float] | None, units: Units) -> Figure:
    """Draw the beam from the side and from above.

    Parameters: span between the ends (mm); taken, readings by end; found, deviations in Z and across (mm).
    """
    strokes: list[Stroke] = []
    for row, (name, y) in enumerate((("from the side: Z", 74.0), ("from above: across", 24.0))):
        deviation = found[row] if found else 0.0
        lean = 0.0 if deviation == 0.0 else LEAN if deviation > 0 else -LEAN
        strokes += [
            Label((2, y + 20), name, "muted", 14, anchor="left"),
            box(4, y - 14, 16, y + 14, "steel-dark", None),
            box(104, y - 14, 116, y + 14, "steel-dark", None),
            Line((16, y), (104, y), "faint", 1.5, dashed=True),
            Line((16, y - lean / 4), (104, y + lean * 1.1), "bad", 2.5),
        ]
        for end, x in (("A", 28.0), ("B", 92.0)):
            on = y + (x - 16) / 88 * lean * 1.35 - lean / 4
            fill = "master" if taken.get(end) else "paper"
            strokes.append(Circle((x, on), 7, fill, "ink", 1.5, dot=True))  # type: ignore[arg-type]
            strokes.append(Label((x, y), f"{end} ({taken.get(end, 0)})", "ink", 14, dy=32))
        if found:
            strokes.append(Label((60, y), small(deviation, units, sign=True), "accent", 17, True, dy=-34))
    words = f"span {length(span, units)}"
    strokes.append(Label((60, -2), words, "muted", 14))
    return Figure(
        "The beam between its ends", (0, -8, 120, 102), tuple(strokes),
        "schematic: the lean is exaggerated, only its direction is true",
    )  # fmt: skip
