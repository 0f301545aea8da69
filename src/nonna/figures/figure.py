"""A drawing without a painter: strokes with the names of inks, in world millimetres, y up."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal, NamedTuple, TypeAlias

Ink = Literal[
    "ink", "muted", "faint", "accent", "due", "bad", "steel", "steel-dark", "pad", "master", "paper", "wash", "ghost"
]
Point: TypeAlias = tuple[float, float]
Anchor = Literal["left", "centre", "right"]


class Line(NamedTuple):
    """A straight stroke; width in screen pixels at any scale."""

    start: Point
    end: Point
    ink: Ink = "ink"
    width: float = 1.5
    dashed: bool = False


class Polygon(NamedTuple):
    """A closed outline, filled, stroked or both."""

    points: tuple[Point, ...]
    fill: Ink | None = "steel"
    ink: Ink | None = "ink"
    width: float = 1.5


class Circle(NamedTuple):
    """A circle; ``dot`` makes its radius pixels instead of millimetres (a mark, not a body)."""

    centre: Point
    radius: float
    fill: Ink | None = None
    ink: Ink | None = "ink"
    width: float = 1.5
    dot: bool = False


class Label(NamedTuple):
    """Words at a place; size in pixels, nudged by dx, dy pixels (y down) off the place."""

    at: Point
    words: str
    ink: Ink = "ink"
    size: int = 14
    bold: bool = False
    anchor: Anchor = "centre"
    dx: float = 0.0
    dy: float = 0.0
    key: str = ""  #: the field of a card that stands there; its words are its caption then


class Span(NamedTuple):
    """A dimension: a line with end ticks between two places and its words beside the middle."""

    start: Point
    end: Point
    words: str
    ink: Ink = "accent"
    anchor: Anchor = "left"


Stroke: TypeAlias = Line | Polygon | Circle | Label | Span


@dataclass(frozen=True, slots=True)
class Figure:
    """A drawing with the window of the world it shows and what is to be said about its scale."""

    title: str
    window: tuple[float, float, float, float]  #: x0, y0, x1, y1 in mm
    strokes: tuple[Stroke, ...]
    scale_note: str
    notes: tuple[str, ...] = field(default=())
    cut: bool = False  #: a window on more: what reaches beyond the room there is is cut off


def box(x0: float, y0: float, x1: float, y1: float, fill: Ink | None = "steel", ink: Ink | None = "muted") -> Polygon:
    """Return an upright rectangle."""
    return Polygon(((x0, y0), (x1, y0), (x1, y1), (x0, y1)), fill, ink)


def exaggeration(factor: float) -> str:
    """Say how much a deviation is drawn larger (or smaller) than it is."""
    if factor >= 1.5:
        return f"exaggerated {factor:.0f} times" if factor >= 2.0 else f"exaggerated {factor:.1f} times"
    return "to scale" if factor > 0.67 else f"drawn {1.0 / factor:.0f} times too small"
