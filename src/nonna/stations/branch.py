"""One branch of a loop drawn: its links side by side, each in its scene."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.figures.figure import Figure, Label, Line, Polygon, Stroke, box
from nonna.stations.kind import StationKind, Tools

PITCH = 228.0
HEIGHT = 205.0
NOTE = "schematic, not to scale"


def branch_figure(kind: StationKind, title: str, keys: Sequence[str], tools: Tools) -> Figure:
    """Draw one branch of the loop, a scene a link.

    Parameters: keys of the links in order; tools, (kind, diameter, length) of some for their scene.
    """
    width = PITCH * len(keys)
    strokes: list[Stroke] = [
        box(0, -14, width, 0, "faint", None),
        box(0, HEIGHT, width, HEIGHT + 12, "faint", None),
    ]
    for i, key in enumerate(keys):
        x, link = PITCH * (i + 0.5), kind.loop.link(key)
        scene = kind.scenes.get(key) or kind.scenes.get(link.like)
        strokes += scene(x, tools) if scene is not None else plain_scene(x, link.title)
    return Figure(title, (0, -16, width, HEIGHT + 14), tuple(strokes), NOTE)


def plain_scene(x: float, title: str) -> list[Stroke]:
    """Draw a link that has no scene of its own: something on a table, by its name."""
    top = HEIGHT * 0.55
    return [
        box(x - 70, 0, x + 70, top, "paper", "muted"),
        Polygon(((x - 70, top), (x - 58, top + 12), (x + 82, top + 12), (x + 70, top)), "faint", "muted"),
        Line((x - 50, top * 0.3), (x + 50, top * 0.3), "faint", 2.0),
        Label((x, top * 0.5), title, "ink", 16, True, "centre"),
    ]
