"""The stand-in router: a home that is never found quite the same, a rack with one bent clip, and the mill's own
stand-in.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from nonna.errors import NonnaError
from nonna.shop.texts.given import Row, as_number
from nonna.standin.wishes import SECONDS_A_READING, Measured, SheetWish, Watch
from nonna.standin.world import World
from nonna.stations.mill.standin.measuring import STANDIN as MILL

PITCH_MM, TOUCH_MM, MADE_MM, HOME_MM = 80.0, 0.004, 0.03, 0.01
FIRST_POCKET_MM = (120.0, 1180.0, -96.0)
BENT_MM = (0.0, 0.9, -0.6)
PIN_MM = {"x": 60.0, "y": 1240.0, "z": -130.0}


def measure(job: SheetWish, world: World, watch: Watch | None = None) -> Measured:
    """Measure on the stand-in router. Raises: NonnaError, and whatever ``watch`` raises."""
    if job.taking not in ("pockets-touched", "pin-touched"):
        return MILL.measure(job, world, watch)
    dice = np.random.default_rng([world.seed, job.run, 41])
    rows = _rack(job, world, dice) if job.taking == "pockets-touched" else _home(job, world, dice)
    for i in range(len(rows)):
        if watch is not None:
            watch(i + 1, len(rows), (i + 1) * SECONDS_A_READING)
    return Measured(rows, "")


def _rack(job: SheetWish, world: World, dice: np.random.Generator) -> list[Row]:
    made = np.random.default_rng([world.seed, 42])
    turn, rise = float(made.normal(0.0, 0.002)), float(made.normal(0.0, 0.02))
    known = {int(each.number("pocket", 0.0)) for each in job.setup.rows("known")}
    numbers = sorted({int(as_number(slot["pocket"])) for slot in job.slots} | known)
    bent = int(made.choice(numbers[1:-1] or numbers))
    places = {}
    for number in numbers:
        way = PITCH_MM * (number - 1)
        step = np.array((way * math.cos(turn), way * math.sin(turn), rise * (number - 1)))
        at = np.array(FIRST_POCKET_MM) + step + made.normal(0.0, MADE_MM, 3)
        places[number] = at + np.array(BENT_MM) * (number == bent)
    sizes = [job.setup.number(name) for name in ("holder_diameter_mm", "rod_diameter_mm")]
    if None in sizes:
        raise NonnaError("missing-field", "Say first how wide the bare holder and the rod are (F9).", "setup")
    reach = sum(size or 0.0 for size in sizes) / 2.0
    rows: list[Row] = []
    for slot in job.slots:
        x, y, z = places[int(as_number(slot["pocket"]))]
        true = {"+x": x + reach, "-x": x - reach, "+y": y + reach, "-y": y - reach, "top": z}[str(slot["face"])]
        rows.append({**slot, "position_mm": round(float(true) + float(dice.normal(0.0, TOUCH_MM)), 3)})
    return rows


def _home(job: SheetWish, world: World, dice: np.random.Generator) -> list[Row]:
    moved = {axis: float(dice.normal(0.0, HOME_MM)) for axis in PIN_MM}
    return [
        {
            **slot,
            "position_mm": round(
                PIN_MM[str(slot["axis"])] + moved[str(slot["axis"])] + float(dice.normal(0.0, TOUCH_MM)), 3
            ),
        }
        for slot in job.slots
    ]


STANDIN = replace(MILL, measure=measure)
