"""The router's links as scenes: a gantry's spindle over its board."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Circle, Label, Line, Polygon, Stroke, box
from nonna.figures.setter import tool_outline
from nonna.stations.branch import HEIGHT
from nonna.stations.kind import Scene, Tools

BOARD = 14.0  #: thickness of the spoil board


def _gantry(x: float, gauge: float) -> list[Stroke]:
    return [
        box(x - 96, HEIGHT - 26, x + 96, HEIGHT, "ghost", None),
        box(x - 24, gauge + 16, x + 24, HEIGHT - 8, "steel", None),
        Polygon(((x - 18, gauge + 16), (x + 18, gauge + 16), (x + 12, gauge), (x - 12, gauge)), "steel-dark", None),
    ]


def _board(x: float) -> Stroke:
    return box(x - 100, 0, x + 100, BOARD, "faint", "muted")


def _home(x: float, _: Tools) -> list[Stroke]:
    return [
        _board(x),
        *_gantry(x, 132),
        *tool_outline("master", 10, 84, (x, 52)),
        box(x - 8, BOARD, x + 8, 52, "pad", "ink"),
        Line((x + 30, 52), (x + 84, 52), "accent", 2.0),
        Line((x + 84, 52), (x + 84, 20), "accent", 2.0),
        Label((x + 58, 60), "home", "accent", 14, True),
    ]


def _plate(x: float, _: Tools) -> list[Stroke]:
    return [
        _board(x),
        *_gantry(x, 60),
        box(x - 52, BOARD, x + 52, 34, "pad", "ink"),
        Line((x + 52, 24), (x + 92, 24), "ink", 2.0),
        Line((x - 80, 34), (x + 80, 34), "accent", 1.5, dashed=True),
    ]


def _rack(x: float, _: Tools) -> list[Stroke]:
    strokes: list[Stroke] = [box(x - 96, 0, x + 96, 22, "steel-dark", None)]
    for i in range(5):
        at = x - 76 + 38 * i
        strokes += [
            Polygon(((at - 14, 22), (at + 14, 22), (at + 10, 52), (at - 10, 52)), "steel", "muted"),
            Circle((at, 62), 9, "paper", "ink", 2.0),
        ]
    return [*strokes, *_gantry(x, 150), *tool_outline("master", 6, 70, (x, 80))]


def _tools(x: float, tools: Tools) -> list[Stroke]:
    kind, wide, long = next(iter(tools), ("end-mill", 12.0, 80.0))
    long = min(long, 104.0)
    return [
        _board(x),
        *_gantry(x, 34 + long),
        *tool_outline(kind, min(wide, 26.0), long, (x, 34)),
        box(x - 52, BOARD, x + 52, 34, "pad", "ink"),
    ]


def _surface(x: float, _: Tools) -> list[Stroke]:
    return [
        _board(x),
        box(x - 78, BOARD, x + 78, 46, "steel", "muted"),
        *_gantry(x, 146),
        *tool_outline("end-mill", 12, 80, (x, 66)),
        box(x - 30, 46, x + 30, 66, "pad", "ink"),
        Line((x - 96, 46), (x + 96, 46), "accent", 1.5, dashed=True),
    ]


SCENES: Mapping[str, Scene] = {
    "home": _home, "plate": _plate, "rack": _rack, "tools": _tools, "surface": _surface,
}  # fmt: skip
