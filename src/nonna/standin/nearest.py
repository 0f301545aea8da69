"""How near a rehearsed path comes to what stands on the machine."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nonna.programs.boxes import Box
from nonna.shop.machine import Machine
from nonna.standin.mill import PathPoint

STEPS = 12  #: places looked at on each move


@dataclass(frozen=True, slots=True)
class Nearest:
    """The nearest miss."""

    gap_mm: float
    name: str
    tool: int
    line: int


def nearest(path: Sequence[PathPoint], machine: Machine) -> Nearest | None:
    """Return how near any tool (a cylinder from tip to gauge line) comes to an obstacle; None without any.

    Distances are between a moving cylinder and boxes, at `STEPS` places along each move.
    """
    if len(path) < 2 or not machine.obstacles:
        return None
    at = np.array([(p.x, p.y, p.z) for p in path])
    share = np.linspace(0.0, 1.0, STEPS)[:, np.newaxis, np.newaxis]
    places = at[:-1] + (at[1:] - at[:-1]) * share  # (steps, moves, 3)
    long = np.array([p.long for p in path[1:]])
    radius = np.array([p.wide / 2.0 for p in path[1:]])
    best: Nearest | None = None
    for obstacle in machine.obstacles:
        box = Box.between(obstacle.box_mm)
        low, high = np.array(box.low), np.array(box.high)
        flat = np.maximum(np.maximum(low[:2] - places[..., :2], places[..., :2] - high[:2]), 0.0)
        across = np.maximum(np.hypot(flat[..., 0], flat[..., 1]) - radius, 0.0)
        over = np.maximum(np.maximum(places[..., 2] - long - high[2], low[2] - places[..., 2]), 0.0)
        gaps = np.hypot(across, over)
        step, move = np.unravel_index(int(np.argmin(gaps)), gaps.shape)
        gap, point = float(gaps[step, move]), path[int(move) + 1]
        if best is None or gap < best.gap_mm:
            best = Nearest(gap, obstacle.name, point.tool, point.line)
    return best
