"""What a spindle probe finds on the stand-in machine: lobed pre-travel, an offset ball, and its faults."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from nonna.shop.texts.given import Row
from nonna.standin.world import World

NOISE, LOOSE, LATE = 0.0003, 0.004, 0.006
RING_AT = (320.0, 210.0)
SURFACE = -402.35


def ring(world: World, slots: Sequence[tuple[float, float]], diameter: float, internal: bool, run: int) -> list[Row]:
    """Touch a ring or pin: slots are (spindle degrees, direction in degrees); gives the spindle axis at the trigger."""
    dice = world.dice(run, 3)
    rows: list[Row] = []
    for number, (turn, direction) in enumerate(slots):
        t, s = math.radians(direction), math.radians(turn)
        way = np.array([math.cos(t), math.sin(t)])
        turned = np.array([[math.cos(s), -math.sin(s)], [math.sin(s), math.cos(s)]]) @ world.ball_xy
        ball = world.ball_radius + world.lobes * math.cos(3.0 * (t - s)) + _scatter(world, dice, number)
        reach = diameter / 2.0 - ball if internal else diameter / 2.0 + ball
        at = np.array(RING_AT) - turned + reach * way
        rows.append({"spindle_deg": turn, "x_mm": round(float(at[0]), 4), "y_mm": round(float(at[1]), 4)})
    return rows


def heights(world: World, vias: Sequence[str], tool: float, probe: float, run: int) -> list[Row]:
    """Touch one surface by the tool and by the probe; each chain is off by what its own length is wrong by."""
    dice = world.dice(run, 4)
    tool += float(np.random.default_rng([world.seed, 11]).normal(0.0, 0.0005))
    return [
        {"via": via, "height_mm": round(SURFACE + (tool if via == "tool" else probe) + _scatter(world, dice, i), 4)}
        for i, via in enumerate(vias)
    ]


def artefact(world: World, count: int, certified: float, expanded: float, k: float, off: float, run: int) -> list[Row]:
    """Measure an artefact; ``off`` is by how much what the machine holds makes every measurement wrong."""
    dice = world.dice(run, 5)
    true = certified + float(np.random.default_rng([world.seed, int(certified * 1e4)]).normal(0.0, expanded / k))
    return [{"value_mm": round(true + off + _scatter(world, dice, i), 4)} for i in range(count)]


def _scatter(world: World, dice: np.random.Generator, number: int) -> float:
    """Return how far off one trigger is, with what the faults add."""
    return float(dice.normal(0.0, NOISE)) + faults_add(world, dice, number)


def faults_add(world: World, dice: np.random.Generator, number: int) -> float:
    """Return what the faults of a world add to one trigger of several, numbered from 0; mm."""
    off = 0.0
    if "loose-stylus" in world.faults:
        off += float(dice.normal(0.0, LOOSE))
    if "low-battery" in world.faults and dice.uniform() < 0.25:
        off += LATE
    if "drifting-temperature" in world.faults:
        off += 0.0004 * number
    if "homing-scatter" in world.faults:
        off += float(np.random.default_rng([world.seed, number // 4, 12]).normal(0.0, 0.003))
    return off
