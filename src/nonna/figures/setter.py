"""The setter, the spindle and what stands between them, side view."""

from __future__ import annotations

import math

from nonna.figures.figure import (
    Circle,
    Figure,
    Ink,
    Label,
    Line,
    Point,
    Polygon,
    Span,
    Stroke,
    box,
)

PAD_THICK = 5.0
BODY_WIDTH = 44.0


def setter_body(x: float, top: float, floor: float, pad_width: float) -> list[Stroke]:
    """Draw a contact setter: pad, stem and body standing on the table."""
    half = pad_width / 2.0
    waist = floor + (top - floor) * 0.6
    return [
        box(x - BODY_WIDTH / 2, floor, x + BODY_WIDTH / 2, waist, "steel-dark", None),
        box(x - half * 0.45, waist, x + half * 0.45, top - PAD_THICK, "muted", None),
        box(x - half, top - PAD_THICK, x + half, top, "pad", None),
    ]


def table(x0: float, x1: float, floor: float) -> Stroke:
    """Draw the machine's table."""
    return box(x0, floor - 6.0, x1, floor, "faint", None)


def spindle(x: float, gauge_line: float, reach: float = 60.0) -> list[Stroke]:
    """Draw the spindle nose with its gauge line at the given height."""
    g = gauge_line
    return [
        box(x - 34, g + reach * 0.35, x + 34, g + reach, "steel", None),
        Polygon(
            ((x - 34, g + reach * 0.35), (x + 34, g + reach * 0.35), (x + 25, g), (x - 25, g)),
            "steel",
            "muted",
        ),
        Line((x - 40, g), (x + 40, g), "muted", 1.0, dashed=True),
    ]


def axis(x: float, low: float, high: float) -> Stroke:
    """Draw the spindle axis."""
    return Line((x, low), (x, high), "muted", 1.0, dashed=True)


def tool_outline(kind: str, diameter: float, length: float, tip: Point) -> list[Stroke]:
    """Draw a tool by its kind, tip at the given place, a usual holder above it."""
    x, y = tip
    neck = y + length * 0.55
    holder = Polygon(((x - 17, neck), (x + 17, neck), (x + 25, y + length), (x - 25, y + length)), "steel", "muted")
    return [holder, *cutter_outline(kind, diameter, tip, neck)]


def cutter_outline(kind: str, diameter: float, tip: Point, neck: float) -> list[Stroke]:
    """Draw a tool by its kind from its tip up to where its holder begins."""
    x, y = tip
    r = max(diameter, 1.0) / 2.0
    shank = min(r, 10.0)
    body: tuple[Point, ...]
    fill: Ink = "steel"
    if kind == "probe":
        stem = y + 2 * r + 34.0
        body = (
            (x - 1.4, y + r),
            (x + 1.4, y + r),
            (x + 1.4, stem),
            (x + 12, stem),
            (x + 12, neck),
            (x - 12, neck),
            (x - 12, stem),
            (x - 1.4, stem),
        )
        return [Polygon(body, "steel", "ink"), Circle((x, y + r), r, "bad", "ink")]
    if kind in ("drill", "spot-drill"):
        point = r * 0.6
        body = ((x, y), (x + r, y + point), (x + r, neck), (x - r, neck), (x - r, y + point))
    elif kind == "ball-mill":
        arc = tuple((x + r * c, y + r - r * s) for c, s in _QUARTERS)
        body = (*arc, (x + r, neck), (x - r, neck))
    elif kind == "face-mill":
        top = y + 26.0
        body = (
            (x - r + 2, y), (x - r + 12, y), (x - r + 14, y + 5), (x + r - 14, y + 5), (x + r - 12, y),
            (x + r - 2, y), (x + r, y + 6), (x + r, top), (x + shank, top), (x + shank, neck),
            (x - shank, neck), (x - shank, top), (x - r, top), (x - r, y + 6),
        )  # fmt: skip
    elif kind in ("slitting-saw", "t-slot"):
        thick = y + (4.0 if kind == "slitting-saw" else 10.0)
        body = (
            (x - r, y), (x + r, y), (x + r, thick), (x + shank, thick), (x + shank, neck),
            (x - shank, neck), (x - shank, thick), (x - r, thick),
        )  # fmt: skip
    elif kind == "chamfer-mill":
        body = ((x, y), (x + r, y + r), (x + r, neck), (x - r, neck), (x - r, y + r))
    else:
        body = ((x - r, y), (x + r, y), (x + r, neck), (x - r, neck))
    if kind == "master":
        fill = "master"
    thread: list[Stroke] = []
    if kind == "tap":
        thread = [Line((x - r, y + h), (x + r, y + h + 3), "ink", 1.0) for h in range(3, int(neck - y) // 2, 4)]
    return [Polygon(body, fill, "ink"), *thread]


_QUARTERS = tuple(
    (c, s)
    for c, s in (
        (-1.0, 0.0), (-0.966, 0.259), (-0.866, 0.5), (-0.707, 0.707), (-0.5, 0.866), (-0.259, 0.966), (0.0, 1.0),
        (0.259, 0.966), (0.5, 0.866), (0.707, 0.707), (0.866, 0.5), (0.966, 0.259), (1.0, 0.0),
    )
)  # fmt: skip


def over_setter(
    title: str,
    kind: str,
    diameter: float,
    length: float,
    *,
    pad: float,
    gap: float,
    plane: str,
    length_words: str,
    known: bool = True,
    part: bool = False,
    offset: float = 0.0,
    turning: str = "",
    offset_words: str = "",
) -> Figure:
    """Draw a tool or master above the setter's pad, to scale, with the loop's two dimensions.

    Parameters: gap, mm of air left between tip and pad (0 when touching); plane, length_words: what
    stands beside the trigger plane and the length; part, whether a part of that width stands there, not a setter;
    offset, spindle axis minus setter centre (mm, along the drawing) with its words; turning, how the tool turns, in
    words.
    """
    floor, top = 0.0, 60.0
    gauge = top + gap + length
    reach = 42.0
    half = max(70.0, diameter / 2 + 30, abs(offset) + BODY_WIDTH / 2 + 12, (gauge + reach) * 0.42)
    if offset:
        half = max(half, 118.0)  # room for the words beside the dimension
    # In a small drawing the words reach down to the body; off centre there is no room beside that.
    beside = pad / 2 if part or offset else max(pad, BODY_WIDTH) / 2
    strokes: list[Stroke] = [
        table(-half, half, floor),
        *([box(-pad / 2, floor, pad / 2, top, "steel", "muted")] if part else setter_body(-offset, top, floor, pad)),
        *spindle(0, gauge, reach),
        axis(0, top - 14, gauge + reach),
        *(tool_outline(kind, diameter, length, (0, top + gap)) if length > 0 else []),
        Line((-half * 0.92, top), (half * 0.92, top), "accent", 1.5, dashed=True),
        Label((-offset - beside - 8, top), plane, "accent", 14, True, "right", 0, 19),
    ]
    if offset:
        y = top - 24.0
        strokes += [
            Line((-offset, y - 6), (-offset, top + 10), "accent", 1.0, dashed=True),
            Line((-offset, y), (0, y), "accent", 1.5), Line((0, y - 3), (0, y + 3), "accent", 1.5),
            Line((-offset, y - 3), (-offset, y + 3), "accent", 1.5),
            Label((max(0.0, -offset) + 4, y), offset_words, "accent", 15, True, "left", 0, 5),
        ]  # fmt: skip
    if turning:
        ring = [(30 * math.cos(a / 10), gauge + 12 + 6 * math.sin(a / 10)) for a in range(-36, 15, 3)]
        strokes += [Line(ring[i], ring[i + 1], "bad", 2.0) for i in range(len(ring) - 1)]
        tip_x, tip_y = ring[0]
        strokes += [
            Line((tip_x, tip_y), (tip_x + 1, tip_y + 7), "bad", 2.0),
            Line((tip_x, tip_y), (tip_x + 7, tip_y + 1), "bad", 2.0),
            Label((0, gauge + reach), turning, "bad", 14, True, dy=-5),
        ]  # fmt: skip
    if length > 0:
        x = max(diameter / 2 + 12, 46.0)
        strokes.append(Span((x, top + gap), (x, gauge), length_words))
    body = "part" if part else "setter"
    note = f"to scale; {body} and spindle in outline" if known else "not to scale: the length is not known yet"
    if gap == 0:
        strokes.append(Circle((-offset, top), 5, "accent", None, dot=True))
    return Figure(title, (-half, floor - 8, half, gauge + reach + (14 if turning else 0)), tuple(strokes), note)
