"""The presetter's links as scenes: a spindle standing up, a column beside it with a measuring head."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Circle, Label, Line, Polygon, Stroke, box
from nonna.figures.presetter import upright
from nonna.figures.setter import tool_outline
from nonna.stations.kind import Scene, Tools


def _stand(x: float, head: float) -> list[Stroke]:
    """Draw base, column and the measuring head at a height; what it measures stands on its left."""
    return [
        box(x - 78, 0, x + 78, 16, "steel-dark", None),
        box(x + 44, 16, x + 66, 196, "ghost", None),
        box(x + 26, head - 11, x + 76, head + 11, "steel", "muted"),
        Line((x - 64, head), (x + 26, head), "accent", 1.5, dashed=True),
        box(x - 50, 16, x - 6, 40, "steel", "muted"),
    ]


def _masters(x: float, _: Tools) -> list[Stroke]:
    return [
        box(x - 72, 0, x + 72, 16, "steel-dark", None),
        *[
            box(x - 62 + i * 34, 16, x - 44 + i * 34, 16 + long, "master", "ink")
            for i, long in enumerate((58, 120, 88))
        ],
        box(x + 42, 16, x + 74, 92, "paper", "muted"),
        *[Line((x + 48, y), (x + 68, y), "faint", 2) for y in (78, 67, 56)],
    ]


def _runout(x: float, _: Tools) -> list[Stroke]:
    return [
        *_stand(x, 150),
        *upright("master", 16, 104, (x - 28, 40)),
        Circle((x + 14, 96), 16, "paper", "ink", 2.0),
        Line((x + 14, 96), (x + 22, 105), "bad", 2.5),
        Line((x - 20, 96), (x - 2, 96), "ink", 2.5),
    ]


def _repeatability(x: float, _: Tools) -> list[Stroke]:
    return [
        *_stand(x, 146),
        *upright("master", 16, 106, (x - 28, 40)),
        Label((x + 8, 60), "× 10", "accent", 16, True, "left"),
    ]


def _calibration(x: float, _: Tools) -> list[Stroke]:
    return [
        *_stand(x, 158),
        *upright("master", 20, 118, (x - 28, 40)),
        Line((x - 64, 116), (x + 26, 116), "muted", 1.5, dashed=True),
        Label((x - 46, 158), "high", "muted", 13, anchor="right", dy=-5),
        Label((x - 46, 116), "low", "muted", 13, anchor="right", dy=-5),
    ]


def _transfer(x: float, _: Tools) -> list[Stroke]:
    return [
        box(x - 78, 0, x - 8, 12, "steel-dark", None),
        *upright("end-mill", 14, 96, (x - 44, 12)),
        Line((x - 76, 108), (x - 10, 108), "accent", 1.5, dashed=True),
        Line((x - 14, 62), (x + 16, 62), "accent", 2.5),
        Polygon(((x + 16, 68), (x + 28, 62), (x + 16, 56)), "accent", None),
        box(x + 20, 148, x + 76, 196, "ghost", None),
        *tool_outline("end-mill", 14, 96, (x + 48, 52)),
        box(x + 36, 40, x + 60, 50, "pad", None),
        box(x + 26, 0, x + 70, 40, "steel-dark", None),
    ]


def _tools(x: float, tools: Tools) -> list[Stroke]:
    kind, wide, long = next(iter(tools), ("drill", 11.0, 92.0))
    return [*_stand(x, 40 + min(long, 118.0)), *upright(kind, min(wide, 36.0), min(long, 118.0), (x - 28, 40))]


SCENES: Mapping[str, Scene] = {
    "master": _masters, "runout": _runout, "repeatability": _repeatability, "calibration": _calibration,
    "transfer": _transfer, "tools": _tools,
}  # fmt: skip
