"""What stands on a machine: the setter as the column under its pad, boxes its file names, the table under them all."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.metrology.shapes.boxes import Box, Post
from nonna.shop.cards.machine import Machine, SetterSpec
from nonna.shop.cards.tool_end import ToolEnd

SETTER, TABLE = "the setter", "the table"
ENDLESS = 1e6


@dataclass(frozen=True, slots=True)
class Thing:
    """Something that must not be met."""

    name: str
    post: Post


def column(shape: str, at: tuple[float, float], widths: tuple[float, float], low: float, high: float) -> Post:
    """Return a setter's body: as its pad is seen from above, between two heights. All mm."""
    half_x, half_y = widths[0] / 2.0, widths[1] / 2.0
    r = min(half_x, half_y) if shape == "disc" else 0.0
    core = Box((at[0] - half_x + r, at[1] - half_y + r, low), (at[0] + half_x - r, at[1] + half_y - r, high))
    return Post(core, r)


def column_of(setter: SetterSpec) -> Post:
    """Return the setter's body as its card has it."""
    foot = setter.trigger_plane_mm - setter.height_mm
    widths = (setter.width_x_mm, setter.width_y_mm)
    return column(setter.shape, (setter.x_mm, setter.y_mm), widths, foot, setter.trigger_plane_mm)


def boxes_of(machine: Machine) -> tuple[Thing, ...]:
    """Return what the machine's file names."""
    return tuple(Thing(each.name, Post(Box.between(each.box_mm))) for each in machine.obstacles)


def table_of(machine: Machine) -> Thing | None:
    """Return the table: the plane at the setter's foot; None without a setter, or where a box stands under it."""
    setter = machine.setter
    if setter is None:
        return None
    for each in boxes_of(machine):
        low, high = each.post.core.low, each.post.core.high
        if low[0] <= setter.x_mm <= high[0] and low[1] <= setter.y_mm <= high[1] and high[2] < setter.trigger_plane_mm:
            return None
    foot = setter.trigger_plane_mm - setter.height_mm
    return Thing(TABLE, Post(Box((-ENDLESS, -ENDLESS, -ENDLESS), (ENDLESS, ENDLESS, foot))))


def lift(pad: Post, end: ToolEnd, x: float, y: float) -> tuple[float, float]:
    """Return how high above a tool's tip a pad meets it, coming down at a place, and how far from its axis (mm).

    Infinite where nothing of the tool is over the pad.
    """
    return end.lowest(max(0.0, pad.away(x, y)), pad.farthest(x, y))
