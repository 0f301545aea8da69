"""What is really so on the stand-in machine. Only the stand-in reads this."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from nonna.shop.cards.machine import Machine, Tool
from nonna.standin.bodies import Body, body


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


def with_tools_changed(truth: Truth, longer: Mapping[int, float]) -> Truth:
    """Return the truth with some tools longer (pulled out) or shorter (broken) than they were."""
    bodies = {n: replace(b, length=b.length + longer.get(n, 0.0)) for n, b in truth.bodies.items()}
    return replace(truth, bodies=bodies)
