"""The lathe's links as scenes: the headstock stands left, the turret comes from the right, the arm from below."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Circle, Label, Line, Polygon, Stroke, box
from nonna.stations.kind import Scene, Tools

AXIS = 92.0  #: height of the spindle's axis above the bed
CUBE = 11.0  #: half the width of the arm's stylus


def _head(x: float, part: float = 0.0, bar: float = 18.0) -> list[Stroke]:
    """The bed, the headstock with its chuck, and a part of a length in it."""
    strokes: list[Stroke] = [
        box(x - 100, 0, x + 100, 12, "faint", "muted"),
        box(x - 98, 12, x - 72, AXIS + 46, "ghost", None),
        box(x - 72, AXIS - 36, x - 52, AXIS + 36, "steel-dark", None),
        box(x - 52, AXIS + bar - 4, x - 36, AXIS + bar + 16, "steel", "muted"),
        box(x - 52, AXIS - bar - 16, x - 36, AXIS - bar + 4, "steel", "muted"),
        Line((x - 100, AXIS), (x + 96, AXIS), "muted", 1.0, dashed=True),
    ]
    return [*strokes, box(x - 52, AXIS - bar, x - 52 + part, AXIS + bar, "master", "ink")] if part else strokes


def _turret(x: float) -> list[Stroke]:
    """The turret's disc on its slide, twelve stations seen from the edge."""
    return [
        box(x - 10, AXIS + 2, x + 16, AXIS + 66, "steel", "ink"),
        box(x + 16, AXIS + 14, x + 34, AXIS + 54, "ghost", None),
    ]


def _bit(x: float, tip: tuple[float, float]) -> list[Stroke]:
    """A turning tool from the turret at x to its tip."""
    a, b = tip
    return [
        Polygon(((a, b), (a + 12, b + 5), (x - 10, b + 5), (x - 10, b + 18), (a + 2, b + 18)), "steel-dark", None),
        Circle(tip, 3.5, "bad", None, dot=True),
    ]


def _arm(x: float, at: tuple[float, float]) -> list[Stroke]:
    """The arm, swung out: its stylus before the chuck."""
    a, b = at
    return [
        Line((x - 84, 22), (a, 22), "steel-dark", 7.0),
        Line((a, 22), (a, b - CUBE), "steel-dark", 7.0),
        box(a - CUBE, b - CUBE, a + CUBE, b + CUBE, "pad", "ink"),
    ]


def _probe(x: float, ball: tuple[float, float]) -> list[Stroke]:
    a, b = ball
    return [
        box(a + 34, b - 9, x + 62, b + 9, "steel-dark", None),
        Line((a, b), (a + 34, b), "ink", 2.5),
        Circle(ball, 6.0, "bad", "ink"),
    ]


def _reference(x: float, _: Tools) -> list[Stroke]:
    return [
        *_head(x, 54),
        box(x + 2, AXIS - 13, x + 24, AXIS + 13, "paper", "ink"),
        *_turret(x + 60),
        *_bit(x + 60, (x + 24, AXIS + 13)),
        Line((x + 24, AXIS - 30), (x + 24, AXIS + 34), "accent", 1.5, dashed=True),
    ]


def _seating(x: float, _: Tools) -> list[Stroke]:
    return [*_head(x), *_arm(x, (x + 8, AXIS - 24)), Label((x + 26, AXIS - 6), "× 10", "accent", 16, True, "left")]


def _calibrated(x: float, _: Tools) -> list[Stroke]:
    at = (x + 8, AXIS - 24)
    faces: list[Stroke] = [
        Circle((at[0] + dx, at[1] + dy), 4, "accent", None, dot=True)
        for dx, dy in ((CUBE, 0.0), (-CUBE, 0.0), (0.0, CUBE), (0.0, -CUBE))
    ]
    return [*_head(x), *_arm(x, at), *faces, *_turret(x + 72), *_bit(x + 72, (at[0] + CUBE + 6, at[1] + CUBE + 6))]


def _centre(x: float, _: Tools) -> list[Stroke]:
    return [
        *_head(x), box(x + 2, AXIS - 7, x + 60, AXIS + 7, "master", "ink"),
        box(x + 60, AXIS - 26, x + 84, AXIS + 40, "steel", "ink"),
        Line((x - 36, AXIS + 20), (x + 12, AXIS + 30), "ink", 2.0),
        Circle((x - 4, AXIS + 42), 12.0, "paper", "ink", 2.0),
        Line((x + 12, AXIS + 30), (x + 14, AXIS + 8), "ink", 1.5), Circle((x + 14, AXIS + 8), 3, "bad", None, dot=True),
    ]  # fmt: skip


def _tips(x: float, _: Tools) -> list[Stroke]:
    at = (x - 4, AXIS - 26)
    return [*_head(x), *_arm(x, at), *_turret(x + 66), *_bit(x + 66, (at[0] + CUBE, at[1] + CUBE))]


def _alignment(x: float, _: Tools) -> list[Stroke]:
    return [
        *_head(x), *_probe(x, (x - 2, AXIS)),
        Line((x - 2, AXIS + 8), (x + 4, AXIS + 40), "ink", 1.5), Circle((x + 6, AXIS + 52), 13.0, "paper", "ink", 2.0),
        Line((x + 6, AXIS + 52), (x + 14, AXIS + 60), "accent", 2.0),
    ]  # fmt: skip


def _ring(x: float, _: Tools) -> list[Stroke]:
    return [
        *_head(x),
        box(x - 36, AXIS + 20, x - 10, AXIS + 30, "pad", "ink"),
        box(x - 36, AXIS - 30, x - 10, AXIS - 20, "pad", "ink"),
        *_probe(x, (x - 22, AXIS + 14)),
        Circle((x - 22, AXIS - 14), 6.0, None, "accent", 1.5),
    ]


def _parts(x: float, _: Tools) -> list[Stroke]:
    return [
        *_head(x, 40),
        box(x - 12, AXIS - 12, x + 22, AXIS + 12, "master", "ink"),
        *_probe(x, (x + 10, AXIS + 18)),
        Circle((x + 10, AXIS - 18), 6.0, None, "accent", 1.5),
    ]


def _chuck(x: float, _: Tools) -> list[Stroke]:
    strokes: list[Stroke] = [
        box(x - 100, 0, x + 100, 12, "faint", "muted"),
        Circle((x, AXIS), 62.0, "steel", "ink", 2.0),
    ]
    for dx, dy in ((0.0, 1.0), (-0.866, -0.5), (0.866, -0.5)):
        strokes.append(Line((x + 24 * dx, AXIS + 24 * dy), (x + 54 * dx, AXIS + 54 * dy), "steel-dark", 14.0))
    return [
        *strokes,
        Circle((x + 2, AXIS + 1), 20.0, "master", "ink", 2.0),
        Circle((x, AXIS), 3, "accent", None, dot=True),
    ]


SCENES: Mapping[str, Scene] = {
    "reference": _reference, "seating": _seating, "arm": _calibrated, "centre": _centre, "tips": _tips,
    "alignment": _alignment,
    "ring": _ring, "parts": _parts, "chuck": _chuck,
}  # fmt: skip
