"""The mill's links as scenes on its table: a spindle above, what it touches below."""

from __future__ import annotations

import math
from collections.abc import Mapping

from nonna.figures.figure import Circle, Label, Line, Polygon, Stroke, box
from nonna.figures.setter import setter_body, tool_outline
from nonna.stations.branch import HEIGHT
from nonna.stations.kind import Scene, Tools

PAD = 46.0  # height of the setter's pad above the table


def _spindle_at(x: float, gauge: float) -> list[Stroke]:
    return [
        box(x - 40, gauge + 34, x + 40, HEIGHT, "ghost", None),
        box(x - 30, gauge + 14, x + 30, gauge + 44, "steel", None),
        Polygon(((x - 30, gauge + 16), (x + 30, gauge + 16), (x + 22, gauge), (x - 22, gauge)), "steel", "muted"),
    ]


def _dial(x: float, y: float, arm: tuple[float, float]) -> list[Stroke]:
    """An indicator as a plain disc with a hand, its arm reaching to what it touches."""
    return [
        Line((x, y), arm, "ink", 2.5),
        Circle((x, y), 17, "paper", "ink", 2.0),
        Line((x, y), (x + 9, y + 9), "bad", 2.5),
    ]


def _master(x: float, _: Tools) -> list[Stroke]:
    return [
        box(x - 66, 0, x + 66, 20, "steel-dark", None),
        box(x - 54, 20, x - 28, 46, "pad", None),
        box(x - 48, 46, x - 34, 146, "master", "ink"),
        box(x - 4, 20, x + 60, 104, "paper", "muted"),
        *[Line((x + 6, y), (x + 50, y), "faint", 2) for y in (90, 79, 68)],
        Circle((x + 42, 38), 8, "master", "muted"),
        Label((x + 6, 48), "cert.", "muted", 12, False, "left"),
    ]


def _level(x: float, _: Tools) -> list[Stroke]:
    return [
        *_spindle_at(x, 140),
        Line((x, 140), (x, 112), "ink", 3.0),
        *_dial(x - 28, 88, (x, 112)),
        Line((x - 28, 71), (x - 12, PAD + 2), "ink", 2.5),
        *setter_body(x, PAD, 0, 30),
        Line((x - 52, PAD + 3), (x + 52, PAD - 3), "accent", 1.5, dashed=True),
    ]


def _beam(x: float, _: Tools) -> list[Stroke]:
    return [
        *_spindle_at(x, 150),
        *tool_outline("master", 8, 88, (x, 62)),
        box(x - 62, 0, x + 62, 18, "steel-dark", None),
        box(x - 62, 18, x - 40, 84, "steel", "muted"),
        box(x + 40, 18, x + 62, 84, "steel", "muted"),
        Line((x - 40, 68), (x + 40, 68), "bad", 2.0, dashed=True),
    ]


def _touching(x: float, kind: str, wide: float, long: float) -> list[Stroke]:
    return [*_spindle_at(x, PAD + long), *setter_body(x, PAD, 0, 22), *tool_outline(kind, wide, long, (x, PAD))]


def _repeatability(x: float, _: Tools) -> list[Stroke]:
    return [*_touching(x, "master", 14, 100), Label((x + 38, 40), "× 10", "accent", 16, True, "left")]


def _setter(x: float, _: Tools) -> list[Stroke]:
    return [*_touching(x, "master", 14, 100), Line((x - 62, PAD), (x + 62, PAD), "accent", 1.5, dashed=True)]


def _tools(x: float, tools: Tools) -> list[Stroke]:
    strokes = _touching(x - 46, "drill", 11, 88)
    for i, (kind, diameter, length) in enumerate(tools[:2]):
        at = x + 22 + i * 50
        strokes += tool_outline(kind, min(diameter, 22), min(length, 100), (at, 22))
        strokes.append(box(at - 20, 0, at + 20, 17, "steel-dark", None))
    return strokes


def _runout(x: float, _: Tools) -> list[Stroke]:
    turn = [(x + 26 * math.cos(math.radians(a)), 148 + 6 * math.sin(math.radians(a))) for a in range(200, 521, 20)]
    return [
        *_spindle_at(x, 140),
        *tool_outline("probe", 13, 104, (x, 36)),
        *_dial(x + 56, 43, (x + 8, 43)),
        *[Line(turn[i], turn[i + 1], "accent", 2.0) for i in range(len(turn) - 1)],
    ]


def _ring(x: float, _: Tools) -> list[Stroke]:
    return [
        *_spindle_at(x, 118),
        box(x - 44, 0, x - 18, 40, "steel", "muted"),
        box(x + 18, 0, x + 44, 40, "steel", "muted"),
        Line((x - 18, 40), (x + 18, 40), "muted", 1.0),
        *tool_outline("probe", 13, 104, (x + 10, 14)),
    ]


def _length(x: float, _: Tools) -> list[Stroke]:
    return _touching(x, "probe", 13, 100)


def _closure(x: float, _: Tools) -> list[Stroke]:
    return [
        box(x - 74, 0, x + 74, 34, "steel", "muted"),
        *_spindle_at(x - 40, 34 + 92),
        *tool_outline("end-mill", 14, 92, (x - 40, 34)),
        *tool_outline("probe", 13, 92, (x + 40, 34)),
        *_spindle_at(x + 40, 34 + 92),
        Line((x - 74, 34), (x + 74, 34), "accent", 2.0, dashed=True),
    ]


def _proof(x: float, _: Tools) -> list[Stroke]:
    return [
        *_spindle_at(x, 148),
        box(x - 34, 0, x + 34, 46, "master", "ink"),
        Label((x, 18), "32", "ink", 14, True),
        *tool_outline("probe", 13, 102, (x, 46)),
    ]


SCENES: Mapping[str, Scene] = {
    "master": _master, "level": _level, "beam": _beam, "repeatability": _repeatability, "setter": _setter,
    "tools": _tools,
    "runout": _runout, "ring": _ring, "probe": _length, "closure": _closure, "proof": _proof,
}  # fmt: skip
