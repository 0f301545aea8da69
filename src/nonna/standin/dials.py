"""What an indicator shows on the stand-in machine: noise, steps, lag, and a lever's cosine."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from nonna.shop.texts.given import Given, Row
from nonna.standin.world import World

NOISE, LAG, STICKY = 0.0003, 0.0003, 0.002
FORM = 0.0004  # of a good ball or shank: two-lobed
FLAT = 0.0002


class Dial:
    """One indicator with its habits; what it shows lags behind where the surface came from."""

    def __init__(self, world: World, papers: Given, run: int) -> None:
        self._dice = world.dice(run, 1)
        self._resolution = papers.number("resolution_mm") or 0.001
        self._cosine = math.cos(math.radians(papers.number("lever_deg", 0.0)))
        self._lag = STICKY if "sticky-dial" in world.faults else LAG
        self._was: float | None = None
        self._shown = 0.0

    def show(self, movement: float) -> float:
        """Return what the dial shows when its tip stands so far out."""
        true = movement / self._cosine
        if self._was is None:
            self._was = true
        self._was = min(max(self._was, true - self._lag / 2), true + self._lag / 2)  # play: it follows late
        shown = self._was + float(self._dice.normal(0.0, NOISE))
        return round(round(shown / self._resolution) * self._resolution, 6)


def surface_at(world: World, angle_deg: float) -> float:
    """Return how far out the turning ball or shank stands under the dial at a spindle angle."""
    t = math.radians(angle_deg)
    return float(world.ball_xy[0] * math.cos(t) + world.ball_xy[1] * math.sin(t)) + FORM / 2 * math.cos(2 * t + 0.7)


def runout(world: World, angles: Sequence[float], indicator: Given, run: int) -> list[Row]:
    """Turn the spindle by hand and read the dial at each angle."""
    dial = Dial(world, indicator, run)
    return [{"angle_deg": a, "value_mm": dial.show(surface_at(world, a))} for a in angles]


def face(world: World, places: Sequence[tuple[float, float]], indicator: Given, run: int) -> list[Row]:
    """Carry the dial over the setter's pad."""
    dial = Dial(world, indicator, run)
    bumps = np.random.default_rng([world.seed, 8]).normal(0.0, FLAT / 2, len(places))
    return [
        {"x_mm": x, "y_mm": y, "value_mm": dial.show(float(world.lean @ np.array([x, y])) + float(bump))}
        for (x, y), bump in zip(places, bumps, strict=True)
    ]


def beam(world: World, ends: Sequence[str], span: float, run: int) -> list[Row]:
    """Find the pin with the beam at each end."""
    dice = world.dice(run, 2)
    rows: list[Row] = []
    for end in ends:
        way: NDArray[np.float64] = world.beam * (span if end == "B" else 0.0)
        z, cross = way + dice.normal(0.0, [0.0006, 0.004])
        rows.append({"end": end, "z_mm": round(-380.0 + float(z), 4), "cross_mm": round(60.0 + float(cross), 3)})
    return rows
