"""The stand-in presetter: an own zero, scale, run-out, scatter and seating, which only its readings tell of."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from nonna.errors import NonnaError
from nonna.shop.texts.given import Given, Row, as_number
from nonna.standin.bodies import body
from nonna.standin.wishes import SECONDS_A_READING, Measured, SheetWish, Standin, Watch
from nonna.standin.world import World

RESOLUTION_MM = 0.001
MACHINE_APART_MM = 0.002  #: how far a machine's setter is from the truth (1 s)
SINCE_CLEANED_MM = 0.0042  #: what its zero moved when the lens was wiped, before the calibration in force
WARM_K, CTE_PER_K = 1.4, 1.15e-5  #: what the room is above 20 °C, and steel


@dataclass(frozen=True, slots=True)
class _Truth:
    """What is really so; mm."""

    zero: Mapping[str, float]  #: by axis: what the display shows too much at nought
    scale: Mapping[str, float]  #: by axis, as a ratio
    scatter: float  #: of one reading, real mm
    seating: float  #: of one seating in the sleeve
    runout: float  #: of the spindle, eccentricity at the master
    phase: float

    @classmethod
    def of(cls, seed: int) -> _Truth:
        dice = np.random.default_rng([seed, 31])
        return cls(
            zero={"z": float(dice.normal(0.0, 0.015)) + SINCE_CLEANED_MM, "x": float(dice.normal(0.0, 0.01))},
            scale={"z": float(dice.normal(0.0, 40e-6)), "x": float(dice.normal(0.0, 40e-6))},
            scatter=float(dice.uniform(0.0006, 0.0012)),
            seating=float(dice.uniform(0.0005, 0.001)),
            runout=float(dice.uniform(0.0008, 0.0015)),
            phase=float(dice.uniform(0.0, 2.0 * math.pi)),
        )


def measure(job: SheetWish, world: World, watch: Watch | None = None) -> Measured:
    """Measure on the stand-in presetter. Raises: NonnaError (it cannot be done, with the reason); whatever ``watch``
    raises.
    """
    if job.taking not in _BY_HAND:
        raise job.refused("presetter's ")
    rows = _BY_HAND[job.taking](job, _Truth.of(world.seed), np.random.default_rng([world.seed, job.run, 32]))
    for i in range(len(rows)):
        if watch is not None:
            watch(i + 1, len(rows), (i + 1) * SECONDS_A_READING)
    return Measured(rows, "")


def lines(job: SheetWish, world: World, pattern: str) -> Callable[[], str]:
    """Return what the presetter prints each time somebody presses its button: a line a reading, as its card's pattern
    says.

    Raises: NonnaError (it cannot be done, with the reason).
    """
    rows = measure(job, world).readings
    number = next((t.number for t in job.tools if t.subject == job.subject), 0)
    at = iter(range(10**9))

    def line() -> str:
        row = rows[next(at) % len(rows)]
        holes = {
            "axis": str(row["axis"]).upper(), "value": f"{row['value_mm']:+.3f}", "tool": str(number), "unit": "mm",
            "skip": "",
        }  # fmt: skip
        return re.sub(r"\{(\w+)\}", lambda hole: holes.get(hole[1], ""), pattern or "{axis} {value}")

    return line


def _shown(truth: _Truth, dice: np.random.Generator, axis: str, size: float, shows: str) -> float:
    """Return what the display shows for a real size: a length, or a diameter."""
    f = 2.0 if axis == "x" and shows == "diameter" else 1.0
    size = size / 2.0 if axis == "x" and shows == "radius" else size
    value = (size + truth.zero[axis]) * (1.0 + truth.scale[axis]) + float(dice.normal(0.0, truth.scatter)) * f
    return round(value / RESOLUTION_MM) * RESOLUTION_MM


def _master_size(job: SheetWish, role: str, axis: str) -> float:
    """Return how large a master really is here: its certificate is right within its doubt."""
    card = job.masters.get(role, Given({}))
    name = "length_mm" if axis == "z" else "diameter_mm"
    if not card.get(name):
        raise NonnaError(
            "missing-field",
            "The master has no {removesuffix} on its card.",
            f"masters.{role}",
            removesuffix=name.removesuffix("_mm"),
        )
    u = card.number(f"U_{name}", 0.0) / (card.number("k") or 2.0)
    dice = np.random.default_rng([job.seed, round(as_number(card[name]) * 1000), 33])
    return (as_number(card[name]) + float(dice.normal(0.0, u))) * (1.0 + CTE_PER_K * WARM_K)


def _calibration(job: SheetWish, truth: _Truth, dice: np.random.Generator) -> list[Row]:
    shows = str(job.setup.get("x_shows", "diameter"))
    return [
        {**slot, "value_mm": _shown(truth, dice, axis, _master_size(job, master, axis), shows)}
        for slot in job.slots
        for axis, master in ((str(slot["axis"]), str(slot["master"])),)
    ]


def _tool(job: SheetWish, truth: _Truth, dice: np.random.Generator) -> list[Row]:
    tool = next((t for t in job.tools if t.subject == job.subject), None)
    if tool is None:
        raise NonnaError(
            "missing-field", "{words} is not among this presetter's tools.", "subject", words=job.subject.words
        )
    real = body(tool, job.seed)
    seat = float(dice.normal(0.0, truth.seating))
    shows = str(job.setup.get("x_shows", "diameter"))
    sizes = {"z": real.length + seat, "x": real.diameter}
    return [
        {**slot, "value_mm": _shown(truth, dice, str(slot["axis"]), sizes[str(slot["axis"])], shows)}
        for slot in job.slots
    ]


def _transfer(job: SheetWish, truth: _Truth, dice: np.random.Generator) -> list[Row]:
    """Tools put right by the calibration, and what a machine's setter then finds: an offset of that machine, and
    seating.
    """
    own = float(np.random.default_rng([job.seed, len(job.subject.id), 34]).normal(0.0, MACHINE_APART_MM))
    lengths = sorted(body(tool, job.seed).length for tool in job.tools) or [60.0, 90.0, 120.0, 150.0, 180.0]
    chosen = [lengths[round(i * (len(lengths) - 1) / max(len(job.slots) - 1, 1))] for i in range(len(job.slots))]
    rows: list[Row] = []
    for slot, long in zip(job.slots, chosen, strict=True):
        here = long + float(dice.normal(0.0, math.hypot(truth.scatter, truth.seating)))
        there = long + own + float(dice.normal(0.0, 2.0 * truth.seating))
        rows.append({**slot, "presetter_mm": round(here, 3), "machine_mm": round(there, 4)})
    return rows


def _repeatability(job: SheetWish, truth: _Truth, dice: np.random.Generator) -> list[Row]:
    size = 140.0
    return [
        {"value_mm": round(_shown(truth, dice, "z", size + float(dice.normal(0.0, truth.seating)), ""), 4)}
        for _ in job.slots
    ]


def _runout(job: SheetWish, truth: _Truth, dice: np.random.Generator) -> list[Row]:
    step = job.setup.part("indicator").number("resolution_mm") or RESOLUTION_MM
    rows: list[Row] = []
    for slot in job.slots:
        turn = math.radians(as_number(slot["angle_deg"])) - truth.phase
        value = 0.02 + truth.runout * math.cos(turn) + float(dice.normal(0.0, 0.0003))
        rows.append({**slot, "value_mm": round(round(value / step) * step, 6)})
    return rows


_BY_HAND: dict[str, Callable[[SheetWish, _Truth, np.random.Generator], list[Row]]] = {
    "master-read": _calibration, "tool-read": _tool, "tools-both-ways": _transfer,
    "repeated-touch": _repeatability, "dial-round": _runout,
}  # fmt: skip

STANDIN = Standin(measure, lines)
