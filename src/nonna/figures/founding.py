"""A machine that grows while it is set up: its travel from above and from the side, its zero, its setter; to scale."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Anchor, Circle, Figure, Ink, Label, Line, Point, Polygon, Stroke, box
from nonna.wording.lengths import Units

UNKNOWN_MM = {"x": 500.0, "y": 400.0, "z": 400.0}  #: drawn dashed until it is known
_PARTS = {
    "travel_x": "x", "travel_y": "y", "travel_z": "z", "rapid_xy": "x", "rapid_z": "z", "brakes": "z", "zero_x": "zero",
    "zero_y": "zero",
    "zero_z": "zero-z", "setter_x": "setter", "setter_y": "setter", "free": "setter", "pad": "setter",
    "pad_shape": "setter",
    "setter_z": "plane", "master_length": "plane", "overtravel": "plane", "setter_height": "plane",
    "certified_length": "plane",
}  # fmt: skip


def machine_figure(answers: Mapping[str, object], asked: str, units: Units = Units.MM) -> Figure:
    """Draw a machine as far as it is known (mm), with what is asked for standing out.

    What lies where it cannot be is drawn there, in the colour of what is wrong. Parameters: answers, by question;
    asked, the key of the question.
    """
    part = _PARTS.get(asked, "")
    known = {
        key: float(value)
        for key, value in answers.items()
        if isinstance(value, (int, float)) and not isinstance(value, bool)
    }
    ends = {
        axis: _ends(
            known.get(f"travel_{axis}", UNKNOWN_MM[axis]),
            str(answers.get(f"zero_{axis}") or ("high end" if axis == "z" else "low end")),
        )
        for axis in "xyz"
    }
    (x0, x1), (y0, y1), (z0, z1) = ends["x"], ends["y"], ends["z"]
    big = max(x1 - x0, y1 - y0, z1 - z0)
    side, bottom = x1 + 0.55 * big, y0  # the side view stands to the right, its lower end level with the plan's
    strokes: list[Stroke] = [
        *_frame(x0, y0, x1, y1, dashed=not {"travel_x", "travel_y"} <= known.keys()),
        Label((x0, y1), "from above", "muted", 13, anchor="left", dy=-8),
        *_width((x0, y0 - 0.06 * big), (x1, y0 - 0.06 * big), known.get("travel_x"), units, part == "x"),
        *_width((x0 - 0.06 * big, y0), (x0 - 0.06 * big, y1), known.get("travel_y"), units, part == "y", "right"),
    ]
    if x0 <= 0.0 <= x1 and y0 <= 0.0 <= y1:
        strokes += _zero((0.0, 0.0), "X0 Y0", part == "zero")
    strokes += _setter_above(known, answers, (x0, x1), (y0, y1), big, part == "setter")
    strokes += _side(known, (z0, z1), side, bottom, big, units, part)
    high = max(y1 - y0, z1 - z0)
    window = (x0 - 0.34 * big, y0 - 0.22 * big, side + 0.5 * big, y0 + high + 0.14 * big)
    return Figure("Your machine, as far as it is known", window, tuple(strokes), "to scale; dashed: not known yet")


def _ends(way: float, zero: str) -> tuple[float, float]:
    low = {"low end": 0.0, "high end": -way, "middle": -way / 2.0}.get(zero, 0.0)
    return low, low + way


def _frame(x0: float, y0: float, x1: float, y1: float, *, dashed: bool) -> list[Stroke]:
    if not dashed:
        return [box(x0, y0, x1, y1, "paper", "muted")]
    corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    return [Line(a, b, "faint", 1.5, True) for a, b in zip(corners, (*corners[1:], corners[0]), strict=True)]


def _width(
    start: Point, end: Point, value: float | None, units: Units, asked: bool, anchor: Anchor = "centre"
) -> list[Stroke]:
    """A dimension once it is known; a bold line with a question mark while it is asked for; its words beside it."""
    if value is None and not asked:
        return []
    ink: Ink = "accent" if asked else "muted"
    words = "?" if value is None else f"{value * units.scale:.5g} {units.symbol}"
    flat = start[1] == end[1]
    tick = 0.012 * (abs(end[0] - start[0]) + abs(end[1] - start[1]))
    ends = [
        Line(
            (x - (0 if flat else tick), y - (tick if flat else 0)),
            (x + (0 if flat else tick), y + (tick if flat else 0)),
            ink,
        )
        for x, y in (start, end)
    ]
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    dx = {"left": 10.0, "right": -10.0}.get(anchor, 0.0)
    note = Label(middle, words, ink, 20 if value is None else 15, True, anchor, dx, 20.0 if flat else 5.0)
    return [Line(start, end, ink, 3.0 if value is None else 1.5), *ends, note]


def _zero(at: Point, words: str, asked: bool, aside: float = 0.0) -> list[Stroke]:
    ink: Ink = "accent" if asked else "muted"
    mark = Circle(at, 6, "paper", ink, 2.0, dot=True)
    return [mark, Label((at[0] + aside, at[1]), words, ink, 13, asked, "left", dx=10, dy=18 if aside else -10)]


def _setter_above(
    known: Mapping[str, float], answers: Mapping[str, object], xs: tuple[float, float], ys: tuple[float, float],
    big: float,
    asked: bool,
) -> list[Stroke]:  # fmt: skip
    x, y = known.get("setter_x"), known.get("setter_y")
    ink: Ink = "accent" if asked else "ink"
    half = max(known.get("pad", 20.0) / 2.0, 0.012 * big)
    if x is None and y is None:
        if not asked:
            return []
        at = (xs[0] + 0.75 * (xs[1] - xs[0]), ys[0] + 0.25 * (ys[1] - ys[0]))
        pad: Stroke = (
            Circle(at, half, "wash", ink)
            if answers.get("pad_shape") != "square"
            else box(at[0] - half, at[1] - half, at[0] + half, at[1] + half, "wash", ink)
        )
        return [pad, Label((at[0], at[1] + half), "the setter, somewhere", ink, 13, dy=-8)]
    if x is None or y is None:  # one of both: a line it stands on
        if not (xs[0] <= x <= xs[1] if x is not None else ys[0] <= (y or 0.0) <= ys[1]):
            ink = "bad"
        line = ((x, ys[0]), (x, ys[1])) if x is not None else ((xs[0], y or 0.0), (xs[1], y or 0.0))
        return [Line(line[0], line[1], ink, 2.0, True)]
    if not (xs[0] <= x <= xs[1] and ys[0] <= y <= ys[1]):
        ink = "bad"
    pad = (
        Circle((x, y), half, "pad", ink, 2.0)
        if answers.get("pad_shape") != "square"
        else box(x - half, y - half, x + half, y + half, "pad", ink)
    )
    words = "setter, outside the travel" if ink == "bad" else "setter"
    return [pad, Label((x, y + half), words, ink, 13, dy=-8)]


def _side(
    known: Mapping[str, float], zs: tuple[float, float], x: float, bottom: float, big: float, units: Units, part: str
) -> list[Stroke]:
    """The travel in Z from the side, the spindle at its top, the setter with the master on it where both are known."""
    up = bottom - zs[0]  # machine coordinate to drawing
    w = 0.09 * big
    strokes: list[Stroke] = [
        Label((x - w, zs[1] + up), "from the side", "muted", 13, anchor="left", dy=-22),
        Line((x, zs[0] + up), (x, zs[1] + up), "muted" if "travel_z" in known else "faint", 1.5,
            "travel_z" not in known),
        Polygon(((x - w, zs[1] + up + 0.06 * big), (x + w, zs[1] + up + 0.06 * big), (x + 0.5 * w, zs[1] + up),
            (x - 0.5 * w, zs[1] + up)), "steel", "muted"),
        *_width((x + 2.2 * w, zs[0] + up), (x + 2.2 * w, zs[1] + up), known.get("travel_z"), units, part == "z",
            "left"),
    ]  # fmt: skip
    if zs[0] <= 0.0 <= zs[1]:
        strokes += _zero((x, up), "Z0", part == "zero-z", 0.55 * w)
    z, long = known.get("setter_z"), known.get("master_length")
    ink: Ink = "accent" if part == "plane" else "ink"
    if z is None:
        return strokes
    plane = z - (long or 0.0)
    if not zs[0] <= z <= zs[1]:
        ink = "bad"
    high, half = known.get("setter_height", 60.0), max(known.get("pad", 20.0) / 2.0, 0.02 * big)
    words = "trigger plane?" if long is None else f"trigger plane, about {plane * units.scale:.5g} {units.symbol}"
    strokes += [
        box(x - half, plane + up - high, x + half, plane + up, "pad", "muted"),
        Line((x - 2 * w, plane + up), (x + 2 * w, plane + up), ink, 2.0, True),
        Label((x, min(plane + up - high, zs[0] + up)), words, ink, 13, dy=20),
    ]  # fmt: skip
    if long:
        strokes.append(box(x - 0.35 * half, plane + up, x + 0.35 * half, z + up, "master", "muted"))
    return strokes
