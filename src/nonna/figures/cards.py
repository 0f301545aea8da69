"""What stands on a card, drawn: a machine's travel and setter, a master; each number at its dimension line."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Anchor, Circle, Figure, Ink, Label, Line, Point, Polygon, Stroke, box
from nonna.figures.lathe import chuck

SMALLEST_MM = 1.0  #: a travel typed the wrong way round is drawn this wide, and said
_PAD = 0.02  #: of the picture's width: a pad is never drawn smaller
_SIDE: Mapping[str, Anchor] = {"left": "left", "right": "right"}
_CAPTIONS = {
    "length_mm": "length", "U_length_mm": "its U", "diameter_mm": "diameter", "U_diameter_mm": "its U",
    "certificate": "certificate", "due": "due",
}  # fmt: skip


def machine_card(values: Mapping[str, float], lit: str, *, setter: bool, square: bool) -> Figure:
    """Draw a mill's or router's travel from above and from the side, its setter, to scale; labels carry their field.

    Parameters: values, of the card in mm, as far as they are numbers; lit, the field that stands out.
    """
    ends = {}
    for axis in "xyz":
        low, high = values.get(f"{axis}_from_mm", 0.0), values.get(f"{axis}_to_mm", 0.0)
        ends[axis] = (low, max(high, low + SMALLEST_MM))
    (x0, x1), (y0, y1), (z0, z1) = ends["x"], ends["y"], ends["z"]
    big = max(x1 - x0, y1 - y0, z1 - z0)
    side, up = x1 + 0.62 * big, y0 - z0  # the side view stands level with the plan's lower edge
    high = max(y1 - y0, z1 - z0)
    strokes: list[Stroke] = [
        box(x0, y0, x1, y1, "paper", "muted"),
        Label((x0, y1), "from above", "muted", 13, anchor="left", dx=8, dy=18),
        *_dimension("x", (x0, y0 - 0.05 * big), (x1, y0 - 0.05 * big), lit, ("left", "right"), (0.0, 34.0)),
        *_dimension("y", (x0 - 0.05 * big, y0), (x0 - 0.05 * big, y1), lit, ("right", "right"), (-8.0, 0.0)),
        Line((side, z0 + up), (side, z1 + up), "faint", 1.5, dashed=True),
        _spindle((side, z1 + up), 0.07 * big),
        Label((side, z1 + up + 0.07 * big), "from the side", "muted", 13, dy=-8),
        *_dimension("z", (side + 0.16 * big, z0 + up), (side + 0.16 * big, z1 + up), lit, ("left", "left"), (8.0, 0.0)),
    ]
    if setter:
        strokes += _setter(values, lit, (x0, x1), (y0, y1), (side, up), big, square)
    window = (x0 - 0.05 * big, y0 - 0.05 * big, side + 0.16 * big, y0 + high + 0.07 * big)
    return Figure("", window, tuple(strokes), "to scale, mm")


def _dimension(
    axis: str, start: Point, end: Point, lit: str, anchors: tuple[Anchor, Anchor], off: Point
) -> list[Stroke]:
    names = (f"{axis}_from_mm", f"{axis}_to_mm")
    ink: Ink = "accent" if lit in names else "muted"
    return [
        Line(start, end, ink, 2.5 if lit in names else 1.5),
        *(
            Label(at, f"{axis.upper()} {word}", "accent" if lit == name else "muted", 13, False, anchor, *off, key=name)
            for name, word, anchor, at in zip(names, ("from", "to"), anchors, (start, end), strict=True)
        ),
    ]


def _spindle(tip: Point, half: float) -> Stroke:
    x, y = tip
    return Polygon(
        ((x - half, y + half), (x + half, y + half), (x + 0.5 * half, y), (x - 0.5 * half, y)), "steel", "muted"
    )


def _setter(
    values: Mapping[str, float], lit: str, xs: Point, ys: Point, beside: Point, big: float, square: bool
) -> list[Stroke]:
    """The setter in both views; lines lead from its middle to the two numbers that say where it stands."""
    x, y = values.get("setter_x_mm", 0.0), values.get("setter_y_mm", 0.0)
    plane, high = values.get("trigger_plane_mm", 0.0), values.get("height_mm", 60.0)
    half = max(values.get("width_x_mm", 14.0) / 2.0, _PAD * big)
    side, up = beside
    inside = xs[0] <= x <= xs[1] and ys[0] <= y <= ys[1]
    ink: Ink = "ink" if inside else "bad"
    at_x, at_y = min(max(x, xs[0]), xs[1]), min(max(y, ys[0]), ys[1])
    pad: Stroke = (
        box(at_x - half, at_y - half, at_x + half, at_y + half, "pad", ink)
        if square
        else Circle((at_x, at_y), half, "pad", ink, 2.0)
    )
    lead: dict[str, Ink] = {name: "accent" if lit == name else "muted" for name in ("setter_x_mm", "setter_y_mm")}
    return [
        Line((at_x, at_y), (at_x, ys[1]), lead["setter_x_mm"], 1.5, dashed=True),
        Line((at_x, at_y), (xs[1], at_y), lead["setter_y_mm"], 1.5, dashed=True),
        pad,
        Label((at_x, at_y - half), "setter" if inside else "setter, outside the travel", ink, 13, dy=16),
        Label((at_x, ys[1]), "setter at X", lead["setter_x_mm"], 13, False, "right", -3.0, -22.0, key="setter_x_mm"),
        Label((at_x, ys[1]), "at Y", lead["setter_y_mm"], 13, False, "left", 3.0, -22.0, key="setter_y_mm"),
        box(side - half, plane + up - high, side + half, plane + up, "pad", "muted"),
        Line((side - 0.12 * big, plane + up), (side + 0.12 * big, plane + up),
            "accent" if lit == "trigger_plane_mm" else "ink", 2.0, dashed=True),
        Label((side - 0.12 * big, plane + up), "trigger plane", "muted", 13, False, "right", -6.0, -12.0,
            key="trigger_plane_mm"),
        Label((side - 0.12 * big, plane + up), "its height", "muted", 13, False, "right", -6.0, 40.0, key="height_mm"),
    ]  # fmt: skip


_LATHE = (  #: field, where its number stands, which side of that, its caption
    ("x_from_mm", (192, -44), "left", "X from"), ("x_to_mm", (192, 106), "left", "X to"),
    ("z_from_mm", (-80, 142), "left", "Z from"), ("z_to_mm", (176, 142), "right", "Z to"),
    ("chuck_radius_mm", (-84, 40), "right", "jaws reach out"), ("chuck_length_mm", (-84, -10), "right", "jaws end at"),
    ("arm_x_mm", (82, -34), "left", "arm's stylus X"), ("arm_z_mm", (82, -82), "left", "... and Z"),
    ("turret_x_mm", (192, 56), "left", "turret X at 0"), ("turret_z_mm", (192, 6), "left", "turret Z at 0"),
)  # fmt: skip


def lathe_card(lit: str) -> Figure:
    """Draw a lathe from the front, the chuck left, arm and turret right; labels carry their field. Not to scale.

    Parameters: lit, the field that stands out.
    """

    def ink(*names: str) -> Ink:
        return "accent" if lit in names else "muted"

    strokes: list[Stroke] = [
        *chuck(30, 20),
        box(96, 30, 124, 104, "steel", ink("turret_x_mm", "turret_z_mm")),
        box(124, 46, 150, 88, "ghost", None),
        Line((110, 30), (110, 14), "steel-dark", 8.0),
        Line((70, -70), (70, 0), "steel-dark", 7.0),
        box(64, 0, 76, 12, "pad", ink("arm_x_mm", "arm_z_mm")),
        Line((180, -44), (180, 106), ink("x_from_mm", "x_to_mm"), 1.5),
        Line((-80, 120), (176, 120), ink("z_from_mm", "z_to_mm"), 1.5),
        Line((-16, 0), (-16, 38), ink("chuck_radius_mm"), 1.5),
        *(
            Label((float(x), float(y)), words, ink(name), 13, False, _SIDE[side], key=name)
            for name, (x, y), side, words in _LATHE
        ),
    ]
    return Figure("", (-84, -84, 192, 138), tuple(strokes), "schematic, not to scale")


def master_card(kind: str, lit: str) -> Figure | None:
    """Draw a master with its dimensions and its paper, not to scale; None for what has no dimensions of its own."""
    if kind == "spindle-face":
        return None

    def ink(*names: str) -> Ink:
        return "accent" if lit in names else "muted"

    def number(at: Point, name: str, anchor: Anchor = "left") -> Label:
        return Label(at, _CAPTIONS[name], ink(name), 13, False, anchor, key=name)

    long, thick = ink("length_mm", "U_length_mm"), ink("diameter_mm", "U_diameter_mm")
    strokes: list[Stroke] = []
    if kind == "ring":
        strokes += [Circle((0, 30), 46, "master", "ink", 2.0), Circle((0, 30), 28, "paper", "ink", 2.0)]
        strokes += [Line((-28, 30), (28, 30), thick, 1.5), *_ticks((-28, 30), (28, 30), thick)]
        strokes += [number((60, 44), "diameter_mm"), number((60, 4), "U_diameter_mm")]
    elif kind == "block":
        strokes += [box(-46, 4, 46, 56, "master", "ink"), *_ticks((-46, 66), (46, 66), long)]
        strokes += [
            Line((-46, 66), (46, 66), long, 1.5),
            number((60, 44), "length_mm"),
            number((60, 4), "U_length_mm"),
        ]
    else:
        strokes += [
            Polygon(((-22, 90), (22, 90), (13, 62), (-13, 62)), "steel", "ink", 2.0),
            box(-26, 55, 26, 62, "steel-dark", "ink"),
            box(-9, -40, 9, 55, "master", "ink"),
            Line((40, 55), (40, -40), long, 1.5),
            *_ticks((40, 55), (40, -40), long),
            Line((-9, -52), (9, -52), thick, 1.5),
            *_ticks((-9, -52), (9, -52), thick),
            number((60, 44), "length_mm"),
            number((60, 4), "U_length_mm"),
            number((-56, -26), "diameter_mm", "right"),
            number((-56, -64), "U_diameter_mm", "right"),
        ]
    strokes += [
        Polygon(((170, 84), (276, 84), (276, -40), (184, -40), (170, -26)), "paper", ink("certificate", "due"), 1.5),
        number((176, 50), "certificate"),
        number((176, 8), "due"),
    ]
    return Figure("", (-58, -58, 270, 92), tuple(strokes), "not to scale")


def _ticks(start: Point, end: Point, ink: Ink) -> list[Stroke]:
    """The ends of a dimension line."""
    flat = start[1] == end[1]
    dx, dy = (0.0, 4.0) if flat else (4.0, 0.0)
    return [Line((x - dx, y - dy), (x + dx, y + dy), ink, 1.5) for x, y in (start, end)]
