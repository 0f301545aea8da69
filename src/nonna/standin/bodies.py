"""What a tool really is: only stand-ins know."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from nonna.shop.cards.hanging import Holder, holder_of
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.tool_end import ToolEnd, end_of, plain_end


@dataclass(frozen=True)
class Body:
    """Something in the spindle: how long it really is, and how thick."""

    length: float
    diameter: float
    kind: str = "master"
    hand: str = "right"
    flat: float = 0.0  #: diameter of its end; 0: wide enough
    holder: Holder = ()
    edges: tuple[float, ...] = ()  #: how far each edge stands back from the longest, mm, 0 or below; empty: all alike
    tool: Tool | None = None
    bore: float = 0.0  #: of a bare nose or holder

    @property
    def passing(self) -> tuple[float, ...]:
        """How far each edge that passes the sensor stands back from the longest, mm."""
        if self.edges:
            return tuple(-edge for edge in self.edges)
        return (0.0,) * max(1, self.tool.edges if self.tool is not None else 1)

    @cached_property
    def end(self) -> ToolEnd:
        """Its lower end."""
        return plain_end(self.diameter, self.bore) if self.tool is None else end_of(self.tool)


def body(tool: Tool, seed: int) -> Body:
    """Return what a tool really is: its true length where given, else near what is stated."""
    dice = np.random.default_rng([seed, 2, tool.number])
    spread = tool.length_uncertainty_mm / 3.0
    stated = tool.length_mm or 100.0
    long = tool.true_length_mm or stated + float(dice.normal(0.0, 1.0)) * spread
    made = as_body(tool, long)
    if tool.kind not in INSERTS or tool.flutes < 2:
        return made
    out = np.random.default_rng([seed, 6, tool.number]).normal(0.0, INSERT_MM, tool.flutes)
    return replace(made, edges=tuple(float(each) for each in out - out.max()))


def as_body(tool: Tool, length: float) -> Body:
    """Return a tool as a body of a length."""
    return Body(length, tool.diameter_mm, tool.kind, tool.hand, flat_of(tool), holder_of(tool.holder), tool=tool)


def flat_of(tool: Tool) -> float:
    """Return the diameter of the end that may be touched at its edge."""
    return tool.tip_diameter_mm or tool.diameter_mm if tool.kind == "chamfer-mill" else tool.diameter_mm


INSERTS, INSERT_MM = (
    ("face-mill", "thread-mill"),
    0.006,
)  #: cutters whose inserts stand out unlike, and by how much (1 s)
