"""How near what hangs in the spindle comes to what stands on the machine."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from nonna.metrology.doubt.fits import Floats
from nonna.metrology.shapes.boxes import Box
from nonna.shop.cards.hanging import Part, parts
from nonna.shop.cards.machine import Machine
from nonna.shop.cards.standing import SETTER
from nonna.standin.path import Path, PathPoint

STEPS, AT_ONCE = 12, 20_000  #: places looked at on each move; moves looked at together


@dataclass(frozen=True, slots=True)
class Nearest:
    """The nearest miss."""

    gap_mm: float
    name: str
    tool: int
    line: int
    part: str = "the tool"  #: of what hangs in the spindle


def nearest(path: Sequence[PathPoint], machine: Machine) -> Nearest | None:
    """Return how near any part of what hangs in the spindle comes to an obstacle; None without any.

    Distances are between moving cylinders and boxes, at `STEPS` places along each move.
    """
    if len(path) < 2 or not machine.obstacles:
        return None
    share = np.linspace(0.0, 1.0, STEPS)[:, np.newaxis, np.newaxis]
    whole = Path.of(path)
    found: list[Nearest] = []
    for _, first, last in whole.stretches():
        for begun in range(max(first, 1), last, AT_ONCE):
            found += _misses(whole, begun, min(begun + AT_ONCE, last), share, machine)
    return min(found, key=lambda each: each.gap_mm)


def _misses(path: Path, first: int, last: int, share: Floats, machine: Machine) -> Iterator[Nearest]:
    """Give the nearest miss of each part with each obstacle on the moves that end at these places of the path."""
    at = path.places[first - 1 : last]
    places = at[:-1] + (at[1:] - at[:-1]) * share  # (steps, moves, 3)
    for part in hanging_at(path[first], machine):
        for each in machine.obstacles:
            gaps = _gaps(places, part, Box.between(each.box_mm))
            _, move = np.unravel_index(int(np.argmin(gaps)), gaps.shape)
            point = path[first + int(move)]
            yield Nearest(float(gaps.min()), each.name, point.tool, point.line, part.words)


def nearest_at(point: PathPoint, machine: Machine) -> Nearest | None:
    """Return what is nearest at one place, the setter among it (its pad for the tool, its body for the rest); None
    where nothing stands.
    """
    at = np.array([[[point.x, point.y, point.z]]])
    found = [
        Nearest(float(_gaps(at, part, box).min()), name, point.tool, point.line, part.words)
        for part in hanging_at(point, machine)
        for name, box in standing(machine)
    ]
    return min(found, key=lambda each: each.gap_mm, default=None)


def standing(machine: Machine) -> tuple[tuple[str, Box], ...]:
    """Return what stands on the machine, the setter by its pad's width down to its foot."""
    around = [(each.name, Box.between(each.box_mm)) for each in machine.obstacles]
    s = machine.setter
    if s is not None:
        half_x, half_y = s.width_x_mm / 2, s.width_y_mm / 2
        low = (s.x_mm - half_x, s.y_mm - half_y, s.trigger_plane_mm - s.height_mm)
        around.append((SETTER, Box(low, (s.x_mm + half_x, s.y_mm + half_y, s.trigger_plane_mm))))
    return tuple(around)


def hanging_at(point: PathPoint, machine: Machine) -> tuple[Part, ...]:
    """Return what hangs in the spindle at a place of the path."""
    return parts(point.long, point.wide, point.holder, machine.spindle)


def _gaps(places: Floats, part: Part, box: Box) -> Floats:
    """Return the distance of a cylinder to a box with the gauge line at places (..., 3), mm; 0 where they meet."""
    low, high = np.array(box.low), np.array(box.high)
    flat = np.maximum(np.maximum(low[:2] - places[..., :2], places[..., :2] - high[:2]), 0.0)
    across = np.maximum(np.hypot(flat[..., 0], flat[..., 1]) - part.radius, 0.0)
    over = np.maximum(np.maximum(places[..., 2] - part.foot - high[2], low[2] - (places[..., 2] - part.top)), 0.0)
    gaps: Floats = np.hypot(across, over)
    return gaps
