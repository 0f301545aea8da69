"""The loop on the machine: stations side by side on the table, each with what it touches."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.procedures.drawings.figure import Circle, Figure, Label, Line, Polygon, Stroke, box
from nonna.procedures.drawings.setter import setter_body, tool_outline

PITCH = 200.0
HEIGHT = 310.0


def loop_figure(machine: str, tools: Sequence[tuple[str, float, float]]) -> Figure:
    """Draw the machine with its stations: master, repeatability, setter, tools.

    Parameters: tools, (kind, diameter, length) of up to three tools for the last station.
    """
    width = 4 * PITCH
    strokes: list[Stroke] = [
        box(0, -22, width, 0, "faint", None),
        box(0, HEIGHT, width, HEIGHT + 22, "faint", None),
        box(width - 22, 0, width, HEIGHT, "faint", None),
        Label((10, HEIGHT), "schematic, not to scale", "muted", 13, False, "left", 0, -7),
        *_shelf(PITCH * 0.5),
        *_spindle_at(PITCH * 1.5, 60 + 140, 100),
        *setter_body(PITCH * 1.5, 60, 0, 22),
        *tool_outline("master", 16, 140, (PITCH * 1.5, 60)),
        Label((PITCH * 1.5 + 42, 56), "× 10", "accent", 17, True, "left"),
        *_spindle_at(PITCH * 2.5, 60 + 140, 100),
        *setter_body(PITCH * 2.5, 60, 0, 22),
        *tool_outline("master", 16, 140, (PITCH * 2.5, 60)),
        Line((PITCH * 2.5 - 70, 60), (PITCH * 2.5 + 70, 60), "accent", 1.5, dashed=True),
        *_tool_row(PITCH * 3.38, tools),
    ]
    return Figure(f"The measuring loop of {machine}", (0, -26, width, HEIGHT + 22), tuple(strokes), "not to scale")


def _spindle_at(x: float, gauge: float, reach: float) -> list[Stroke]:
    return [
        box(x - 46, gauge + 40, x + 46, HEIGHT, "ghost", None),
        box(x - 36, gauge + 16, x + 36, gauge + reach - 50, "steel", None),
        Polygon(((x - 36, gauge + 20), (x + 36, gauge + 20), (x + 26, gauge), (x - 26, gauge)), "steel", "muted"),
    ]


def _shelf(x: float) -> list[Stroke]:
    """The master in its box, with its certificate."""
    return [
        box(x - 72, 0, x + 72, 26, "steel-dark", None),
        box(x - 60, 26, x - 30, 60, "pad", None),
        box(x - 53, 60, x - 37, 196, "master", "ink"),
        box(x - 2, 26, x + 66, 120, "paper", "muted"),
        *[Line((x + 8, y), (x + 56, y), "faint", 2) for y in (104, 92, 80)],
        Circle((x + 48, 46), 8, "master", "muted"),
        Label((x + 8, 60), "cert.", "muted", 12, False, "left"),
    ]


def _tool_row(x: float, tools: Sequence[tuple[str, float, float]]) -> list[Stroke]:
    strokes: list[Stroke] = [*_spindle_at(x - 40, 60 + 112, 100), *setter_body(x - 40, 60, 0, 22)]
    strokes += tool_outline("drill", 12, 112, (x - 40, 60))
    for i, (kind, diameter, length) in enumerate(tools[:2]):
        at = x + 32 + i * 50
        strokes += tool_outline(kind, min(diameter, 24), length, (at, 26))
        strokes.append(box(at - 22, 0, at + 22, 20, "steel-dark", None))
    return strokes
