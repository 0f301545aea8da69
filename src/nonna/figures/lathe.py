"""Drawings of the lathe: Z to the left along the axis (the chuck stands left), X upwards from the axis."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Literal, TypeAlias

from nonna.figures.figure import Anchor, Circle, Figure, Ink, Label, Line, Polygon, Span, Stroke, box, exaggeration
from nonna.wording.lengths import Units, length, small

TipShape: TypeAlias = Literal["insert", "drill", "cutter"]
CUBE = 12.0  #: half the width of the arm's stylus in a drawing


def chuck(length_of_part: float, radius: float) -> list[Stroke]:
    """Draw a chuck with a part in it, the axis at height 0."""
    jaw = max(radius, 12.0)
    return [
        box(-70, -jaw - 22, -40, jaw + 22, "steel-dark", None),
        box(-40, jaw - 4, -14, jaw + 14, "steel", "muted"),
        box(-40, -jaw - 14, -14, -jaw + 4, "steel", "muted"),
        box(-40, -radius, length_of_part, radius, "master", "ink"),
        Line((-76, 0), (length_of_part + 18, 0), "muted", 1.0, dashed=True),
    ]


def test_cut_figure(diameter: float | None, offsets: Mapping[str, float], units: Units) -> Figure:
    """Draw the bar with the step that was turned and faced."""
    strokes = [
        *chuck(44, 26),
        box(44, -20, 74, 20, "paper", "ink"),
        Polygon(((62, 20), (78, 34), (96, 34), (96, 52), (70, 52)), "steel", "ink"),
    ]
    words = f"⌀ {length(diameter, units)}" if diameter is not None else "⌀ to be measured"
    strokes.append(Span((80, -20), (80, 20), words))
    strokes.append(Line((74, -34), (74, 36), "accent", 1.5, dashed=True))
    strokes.append(Label((74, -34), "face", "accent", 13, dy=16))
    for i, (title, value) in enumerate(offsets.items()):
        strokes.append(Label((-70, 66 - 12 * i), f"{title} {length(value, units)}", "ink", 15, True, "left"))
    return Figure("The test cut", (-80, -60, 150, 78), tuple(strokes), "schematic, not to scale")


def chuck_master_figure(
    diameter: float, touched: Collection[str], offsets: Mapping[str, float], units: Units
) -> Figure:
    """Draw a master in the chuck with the tip at its side, and the half turn between the touches."""
    strokes = [*chuck(70, 20), Polygon(((40, 21), (56, 35), (74, 35), (74, 53), (48, 53)), "steel", "ink")]
    ends = {"x": ((36.0, 21.0), (36.0, 44.0), 0, -6), "z": ((73.0, 0.0), (92.0, 0.0), 20, 5)}
    for axis, (at, start, dx, dy) in ends.items():
        ink: Ink = "accent" if axis in touched else "due"
        strokes += [Line(start, at, ink, 3.0), Circle(at, 4, ink, None, dot=True)]
        strokes.append(Label(start, axis.upper(), ink, 15, True, dx=dx, dy=dy))
    strokes.append(Label((28, -20), f"⌀ {length(diameter, units)}", "ink", 15, True, dy=20))
    strokes.append(Label((-55, -44), "half a turn between the touches", "muted", 13, False, "left", dy=22))
    for i, (title, value) in enumerate(offsets.items()):
        strokes.append(Label((-70, 66 - 12 * i), f"{title} {length(value, units)}", "ink", 15, True, "left"))
    return Figure("The master in the chuck", (-80, -60, 150, 78), tuple(strokes), "schematic, not to scale")


def arm_figure(touched: Collection[str], widths: Mapping[str, float], units: Units, asked: str = "") -> Figure:
    """Draw the arm's stylus with its four faces, those touched marked, the one asked for lit.

    Parameters: widths, real mm by axis.
    """
    strokes: list[Stroke] = [
        *chuck(8, 20),
        Line((96, -66), (96, 6), "steel-dark", 9.0),
        box(96 - CUBE, 18 - CUBE, 96 + CUBE, 18 + CUBE, "pad", "ink"),
    ]
    places = {"+x": (96.0, 18 + CUBE), "-x": (96.0, 18 - CUBE), "+z": (96 + CUBE, 18.0), "-z": (96 - CUBE, 18.0)}
    for face, (x, y) in places.items():
        on, lit = face in touched, face == asked
        ink: Ink = "accent" if on or lit else "muted"
        away = {"+x": (0, 15), "-x": (-24, -10), "+z": (17, 0), "-z": (-17, 0)}[face]
        if lit:
            ends = ((x - CUBE, y), (x + CUBE, y)) if face[1] == "x" else ((x, y - CUBE), (x, y + CUBE))
            strokes.append(Line(*ends, "accent", 5.0))
        strokes.append(Circle((x, y), 8 if lit else 5, ink if on else "paper", ink, 2.0, dot=True))
        strokes.append(Label((x + away[0], y + away[1]), face, ink, 20 if lit else 15, on or lit, dy=5))
    for i, (axis, value) in enumerate(sorted(widths.items())):
        words = f"{axis.upper()} {length(value, units)} wide"
        strokes.append(Label((-66, 64 - 12 * i), words, "ink", 15, True, "left"))
    return Figure(
        "The arm's stylus, swung out before the chuck", (-80, -72, 140, 76), tuple(strokes), "schematic, not to scale"
    )


def tip_figure(
    words: str,
    faces: Collection[str],
    touched: Collection[str],
    offsets: Mapping[str, float],
    units: Units,
    shape: TipShape,
) -> Figure:
    """Draw the tip over the arm's stylus, where it stands before the touch and which way each axis moves.

    Parameters: faces of the stylus it touches; touched, axes or faces that were; offsets, by their titles.
    """
    sx, sz = (1 if "-x" not in faces else -1), (1 if "-z" not in faces or "+z" in faces else -1)
    along, across = bool({"+z", "-z"} & set(faces)), bool({"+x", "-x"} & set(faces))
    at = (sz * (CUBE + 12.0) if along else 0.0, sx * (CUBE + 12.0) if across else 0.0)
    strokes: list[Stroke] = [box(-CUBE, -CUBE, CUBE, CUBE, "pad", "ink"), Line((0, -CUBE), (0, -58), "steel-dark", 9.0)]
    strokes += [_insert(at, sz, sx)] if shape == "insert" else _round(at, pointed=shape == "drill")
    strokes.append(Circle(at, 5, "bad", "ink", 1.5, dot=True))
    for face in faces:
        side, is_x = (1 if face[0] == "+" else -1), face[1] == "x"
        end = (at[0] * 0.45, side * CUBE) if is_x else (side * CUBE, at[1] * 0.45)
        start = (end[0], end[1] + side * 16) if is_x else (end[0] + side * 16, end[1])
        ink: Ink = "accent" if {face[1], face} & set(touched) else "due"
        strokes += [Line(start, end, ink, 3.0), Circle(end, 4, ink, None, dot=True)]
        away = -sz if is_x else side  # the tool stands on the other side; below, so does the stem
        dx, dy = (8 + (32 if side < 0 else 0), -6) if is_x else (8, 5 if across else 30 if shape == "insert" else 42)
        anchor: Anchor = "left" if away > 0 else "right"
        strokes.append(Label(start, f"{face[1].upper()} on {face}", ink, 14, True, anchor, dx=away * dx, dy=dy))
    for i, (title, value) in enumerate(offsets.items()):
        strokes.append(Label((-88, 58 - 10 * i), f"{title} {length(value, units)}", "ink", 15, True, "left"))
    return Figure(words, (-92, -64, 92, 66), tuple(strokes), "schematic; the chuck is to the left")


def _insert(at: tuple[float, float], sz: int, sx: int) -> Stroke:
    """Return an insert and its shank, up and away from the stylus."""
    corners = ((0, 0), (sz * 26, sx * 6), (sz * 26, sx * 30), (sz * 4, sx * 30))
    return Polygon(tuple((at[0] + z, at[1] + x) for z, x in corners), "steel", "ink")


def _round(at: tuple[float, float], *, pointed: bool) -> list[Stroke]:
    """Return a tool with its holder, along the axis, or across it where it stands above the stylus."""
    upright, tip = at[1] > 0.0, 5.0 if pointed else 0.0

    def placed(u: float, v: float) -> tuple[float, float]:
        return (at[0] + v, at[1] + u) if upright else (at[0] + u, at[1] + v)

    body = ((0.0, 0.0), (tip, 8.0), (28.0, 8.0), (28.0, -8.0), (tip, -8.0))
    holder = ((28.0, 15.0), (42.0, 15.0), (42.0, -15.0), (28.0, -15.0))
    return [
        Polygon(tuple(placed(u, v) for u, v in body), "steel", "ink"),
        Polygon(tuple(placed(u, v) for u, v in holder), "steel-dark"),
        Line(placed(-4.0, 0.0), placed(46.0, 0.0), "muted", 1.0, dashed=True),
    ]


def centre_figure(touched: Collection[str], x: float | None, height: float | None, units: Units) -> Figure:
    """Draw the bar as seen along the axis, its distance from the axis much larger than it is.

    Parameters: touched, sides of the bar that were read; x and height, how far it really stands off, mm.
    """
    far = max(abs(x or 0.0), abs(height or 0.0), 1e-3)
    scale = 16.0 / far
    at = ((x or 0.0) * scale, (height or 0.0) * scale)
    strokes: list[Stroke] = [
        Circle((0, 0), 50, None, "faint", 1.5),
        Line((-62, 0), (62, 0), "muted", 1.0, dashed=True),
        Line((0, -62), (0, 62), "muted", 1.0, dashed=True),
        Circle(at, 24, "master", "ink", 2.0),
    ]
    for side, place in (("+x", (50, 0)), ("-x", (-50, 0)), ("+y", (0, 50)), ("-y", (0, -50))):
        on = side in touched
        ink: Ink = "accent" if on else "muted"
        strokes.append(Circle(place, 5, ink if on else "paper", ink, 2.0, dot=True))
        strokes.append(Label(place, side, ink, 14, on, dx=18 if place[0] >= 0 else -18, dy=-8))
    if x is not None:
        strokes.append(Label((-70, 64), f"X {small(x, units, sign=True)} off the axis", "ink", 15, True, "left"))
    if height is not None:
        strokes.append(Label((-70, 54), f"height {small(height, units, sign=True)}", "ink", 15, True, "left"))
    note = f"the bar's place {exaggeration(scale)}" if x is not None else "schematic, not to scale"
    return Figure("The bar in the turret, seen along the axis", (-74, -70, 74, 74), tuple(strokes), note)


def ring_figure(size: float, ball: float | None, inside: bool, touched: Collection[str], units: Units) -> Figure:
    """Draw the ball in a ring, or beside a pin, seen along the axis; to scale."""
    r, b = size / 2.0, (ball or size / 10.0) / 2.0
    reach = r + (0 if inside else 2 * b) + 0.25 * size
    strokes: list[Stroke] = [
        Circle((0, 0), r, "paper" if inside else "master", "ink", 2.0),
        Line((0, -reach), (0, reach), "muted", 1.0, dashed=True),
    ]
    for at, sign in (("+", 1), ("-", -1)):
        y = sign * (r - b if inside else r + b)
        on = at in touched
        strokes.append(Circle((0, y), b, "bad" if on else "steel", "ink", 1.5))
        strokes.append(Label((b + 0.04 * size, y), at, "accent" if on else "muted", 15, on, "left", dy=5))
    words = f"ball {length(ball, units)}" if ball is not None else "ball not known yet"
    strokes.append(Label((-reach, reach), words, "ink", 14, True, "left", dy=14))
    note = "to scale" if ball is not None else "ring to scale, ball not"
    return Figure("In the ring" if inside else "Round the pin", (-reach, -reach, reach, reach), tuple(strokes), note)


def part_figure(
    feature: str,
    touched: Collection[str],
    found: tuple[float, float] | None,
    limits: tuple[float, float] | None,
    units: Units,
) -> Figure:
    """Draw the feature, and beside it where its error lies in the tolerance band.

    Parameters: found, (error, expanded uncertainty) mm; limits, of the error (mm).
    """
    strokes: list[Stroke] = [*chuck(10, 22)]
    if feature == "diameter":
        strokes.append(box(10, -16, 52, 16, "master", "ink"))
        marks = {"+": (40.0, 16.0), "-": (40.0, -16.0)}
    elif feature == "groove":
        strokes += [
            box(10, -16, 24, 16, "master", "ink"),
            box(24, -8, 38, 8, "master", "ink"),
            box(38, -16, 52, 16, "master", "ink"),
        ]
        marks = {"-": (24.0, 12.0), "+": (38.0, 12.0)}
    elif feature == "rib":
        strokes += [box(10, -8, 52, 8, "master", "ink"), box(24, -18, 38, 18, "master", "ink")]
        marks = {"-": (24.0, 13.0), "+": (38.0, 13.0)}
    else:
        strokes += [box(10, -16, 30, 16, "master", "ink"), box(30, -9, 52, 9, "master", "ink")]
        marks = {"-": (30.0, 13.0), "+": (52.0, 5.0)}
    for at, place in marks.items():
        on = at in touched
        strokes.append(Circle(place, 6, "accent" if on else "paper", "accent" if on else "muted", 2.0, dot=True))
    note = "part schematic"
    if found is not None:
        error, expanded = found
        ends = limits or (-abs(error) - expanded, abs(error) + expanded)
        reach = max(abs(ends[0]), abs(ends[1]), abs(error) + expanded, 1e-4) * 1.2
        scale = 34.0 / reach
        if limits is not None:
            strokes.append(box(92, limits[0] * scale, 108, limits[1] * scale, "wash", None))
            for limit in limits:
                strokes.append(Line((88, limit * scale), (112, limit * scale), "bad", 2.0))
                strokes.append(
                    Label((115, limit * scale), small(limit, units, sign=True), "bad", 14, anchor="left", dy=5)
                )
        strokes += [
            Line((86, 0), (114, 0), "muted", 1.0),
            Line((100, (error - expanded) * scale), (100, (error + expanded) * scale), "accent", 4.0),
            Circle((100, error * scale), 7, "accent", None, dot=True),
            Label((84, error * scale), small(error, units, sign=True), "accent", 16, True, "right", dy=5),
        ]
        note = f"part schematic; error {exaggeration(scale)}"
    return Figure(f"The {feature}, and its error", (-80, -50, 150, 50), tuple(strokes), note)
