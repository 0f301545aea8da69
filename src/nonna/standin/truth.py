"""What is really so on the stand-in machine. Only the stand-in reads this."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from nonna.programs.planning.hanging import Holder, holder_of
from nonna.programs.planning.oriented import edges_of
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.cards.tool_end import ToolEnd, end_of, plain_end

INSERTS, INSERT_MM = (
    ("face-mill", "thread-mill"),
    0.006,
)  #: cutters whose inserts stand out unlike, and by how much (1 s)


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
        return (0.0,) * max(1, edges_of(self.tool) if self.tool is not None else 1)

    @cached_property
    def end(self) -> ToolEnd:
        """Its lower end."""
        return plain_end(self.diameter, self.bore) if self.tool is None else end_of(self.tool)


@dataclass(frozen=True, slots=True)
class Truth:
    """The machine as it is, not as its papers say; mm, seconds."""

    x: float
    y: float
    plane: float
    width_x: float
    width_y: float
    pre_travel: float
    repeatability: float
    resolution: float
    growth: float  #: how far the spindle grows as it warms, mm
    growth_s: float  #: time constant of that
    bodies: Mapping[int, Body] = field(default_factory=dict)  #: by pocket; 0 is what is in the spindle at the start


def make(machine: Machine, tools: list[Tool], seed: int, in_spindle: Tool | None = None) -> Truth:
    """Make the truth of a machine from a seed: the same seed gives the same machine.

    Raises: ValueError (the machine has no setter).
    """
    if machine.setter is None:
        raise ValueError(f"{machine.name} has no setter")
    s = machine.setter
    dice = np.random.default_rng([seed, 1])
    x, y, plane = dice.normal(0.0, [0.08, 0.08, 0.02])
    width_x, width_y = dice.normal(-0.010, 0.002, 2)
    pre_travel = float(dice.uniform(0.004, 0.008))
    bodies = {tool.number: body(tool, seed) for tool in tools}
    if in_spindle is not None:
        bodies[0] = body(in_spindle, seed)
    return Truth(
        x=s.x_mm + float(x),
        y=s.y_mm + float(y),
        plane=s.trigger_plane_mm + float(plane),
        width_x=s.width_x_mm + float(width_x),
        width_y=s.width_y_mm + float(width_y),
        pre_travel=pre_travel,
        repeatability=machine.repeatability_mm,
        resolution=0.0001,
        growth=float(dice.uniform(0.0005, 0.0015)),
        growth_s=2400.0,
        bodies=bodies,
    )


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


def with_tools_changed(truth: Truth, longer: Mapping[int, float]) -> Truth:
    """Return the truth with some tools longer (pulled out) or shorter (broken) than they were."""
    bodies = {n: replace(b, length=b.length + longer.get(n, 0.0)) for n, b in truth.bodies.items()}
    return replace(truth, bodies=bodies)
