"""Coverage of the stated 95 % intervals where a simulator shares nothing of what is comfortable to assume.

Axes that scatter unlike each other, displays coarser than the scatter, teeth alike and unlike, none of it known to the
evaluation but what a sheet would carry.
"""

from __future__ import annotations

import copy
import math
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import numpy as np
from tests.support.examples import document
from tests.support.simulators import SIGMA, SIMULATORS, carried, history, truth_of

from nonna.metrology.turning import touched_after
from nonna.procedures.catalogue import evaluate

CASES = 4_000
Truths = dict[str, Any]
Simulated = tuple[dict[str, Any], Truths]
Simulator = Callable[[np.random.Generator, int, dict[str, Any]], Simulated]
READ = ("position_mm", "value_mm", "height_mm", "x_mm", "y_mm", "z_mm", "cross_mm")


def _unlike(rng: np.random.Generator) -> dict[str, float]:
    """Scatter by axis: any of them up to three times another."""
    return {axis: SIGMA * float(np.exp(rng.uniform(-0.55, 0.55))) for axis in "xyz"}


def setter(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """A setter calibrated on all faces, each axis with a scatter of its own."""
    s, plane, long, wide = _unlike(rng), -452.4, 140.0, 16.0
    places = {"top": ("z", plane + long), "+x": ("x", 15.0), "-x": ("x", -15.0), "+y": ("y", 15.0), "-y": ("y", -15.0)}
    rows = [
        {"face": face, "position_mm": at + rng.normal(0, s[axis])} for face,
        (axis, at) in places.items() for _ in range(n)
    ]  # fmt: skip
    master = {
        "length_mm": long + rng.normal(0, 4e-4), "U_length_mm": 8e-4, "diameter_mm": wide + rng.normal(0, 4e-4),
        "U_diameter_mm": 8e-4, "k": 2,
    }  # fmt: skip
    truth = {"trigger_plane_mm": plane, "centre_x_mm": 0.0, "centre_y_mm": 0.0, "width_x_mm": 14.0, "width_y_mm": 14.0}
    return document("setter-calibration", setup, rows, masters={"master": master}), truth


def home(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """A pin found again, each axis with a scatter of its own."""
    s, moved = _unlike(rng), rng.normal(0, 0.01, 3)
    found: dict[str, Any] = {}
    first = [{"axis": a, "position_mm": 100.0 + rng.normal(0, s[a])} for a in "xyz" for _ in range(n)]
    before = evaluate(document("home-check", setup, first))
    for axis in "xyz":
        pin = before.quantity(f"pin_{axis}_mm").estimate
        assert pin is not None
        found |= {f"pin_{axis}_mm": pin.value, f"pin_{axis}_u_mm": pin.u, f"pin_{axis}_dof": carried(pin.k)}
    rows = [
        {"axis": a, "position_mm": 100.0 + m + rng.normal(0, s[a])} for a,
        m in zip("xyz", moved, strict=True) for _ in range(n)
    ]  # fmt: skip
    return document("home-check", {**setup, **found}, rows), dict(
        zip(("moved_x_mm", "moved_y_mm", "moved_z_mm"), moved, strict=True)
    )


def _late(rng: np.random.Generator, count: int) -> tuple[dict[str, Any], int, list[float]]:
    """How late touches of a turning tool come, with the setup a sheet has of it: teeth alike, unlike, one far out."""
    z, feed = int(rng.choice([1, 2, 3, 4, 6])), 0.008
    out = rng.choice([1e-6, 0.3, 1.0, 3.0]) * feed
    back = np.sort(rng.uniform(0.0, out, z))
    back = rng.permutation(back - back.min())
    phases = rng.uniform(size=count)
    setup: dict[str, Any] = {"feed_per_rev_mm": feed, "flutes": int(rng.choice([z, 0]))}
    if rng.uniform() < 0.3:
        setup["edges_back_mm"] = [float(b) for b in back]
    return setup, z, [float(v) for v in touched_after(feed, back.tolist(), phases)]


def length(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """A length of a turning tool, its teeth alike or not."""
    more, _, late = _late(rng, n)
    plane = -452.4
    rows = [{"position_mm": plane + 112.4 - x + rng.normal(0, SIGMA)} for x in late]
    given = {"trigger_plane_mm": plane + rng.normal(0, 4e-4), "trigger_plane_u_mm": 4e-4}
    return document("tool-length", {**setup, **given, **more}, rows), {"length_mm": 112.4}


def diameter(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """A diameter of a turning tool, on both sides, its teeth alike or not."""
    more, _, late = _late(rng, 2 * n)
    rows = []
    for (face, way), some in zip((("+x", 1), ("-x", -1)), (late[:n], late[n:]), strict=True):
        rows += [{"face": face, "position_mm": 720.0 + way * (15.0 - x) + rng.normal(0, SIGMA)} for x in some]
    given = {"setter_width_mm": 14.0 + rng.normal(0, 5e-4), "setter_width_u_mm": 5e-4}
    return document("tool-diameter", {**setup, **given, **more}, rows), {"diameter_mm": 16.0}


def teeth(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """Tooth run-out: teeth alike, unlike, or one alone standing out."""
    z, kind = int(rng.choice([2, 3, 4, 5, 8])), rng.integers(3)
    heights = (np.zeros(z), rng.uniform(0, 0.02, z), np.r_[0.02, np.zeros(z - 1)])[kind]
    rows = [
        {"tooth": i + 1, "position_mm": -340.0 + h + rng.normal(0, SIGMA)}
        for i, h in enumerate(heights)
        for _ in range(n)
    ]
    return document("tooth-runout", setup, rows), {"runout_mm": float(np.ptp(heights))}


def ring(rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    """A lathe's ring in X, where the axis scatters otherwise than the history says of the arm's."""
    s = _unlike(rng)["x"]
    size, ball, shows = 50.0018, 5.99, str(rng.choice(["diameter", "radius"]))
    f = 0.5 if shows == "diameter" else 1.0
    rows = [
        {"at": at, "position_mm": (sign * (size - ball) / 2 + rng.normal(0, s)) / f}
        for at, sign in (("+", 1), ("-", -1)) for _ in range(n)
    ]  # fmt: skip
    masters = {"ring": {"diameter_mm": size + rng.normal(0, 4e-4), "U_diameter_mm": 8e-4, "k": 2}}
    setup = {**setup, "side": "internal", "x_shows": shows}
    return document("lathe-ring", setup, rows, masters=masters), {"ball_diameter_mm": ball}


UNLIKE: dict[str, Simulator] = {
    "setter, unlike axes": setter, "home, unlike axes": home, "turning length": length, "turning diameter": diameter,
    "teeth": teeth, "lathe ring": ring,
}  # fmt: skip
SEVERAL_DISPLAYS = ("presetter", "tool on the presetter", "transfer", "rack", "probe ring", "high spot")  #: in one file
ALIKE_HISTORY = ("turning length", "turning diameter", "teeth")  #: those whose history is of the very axis


def coarse(rng: np.random.Generator, made: Simulated) -> Simulated:
    """Show what was read on a display one to four times as coarse as the scatter, wherever its steps happen to lie."""
    found, step = copy.deepcopy(made[0]), SIGMA * float(rng.choice([1.0, 2.0, 4.0]))
    places: dict[tuple[str, str], float] = {}
    for row in found["readings"]:
        for name in READ:
            if name in row and name not in ("x_mm", "y_mm"):
                off = places.setdefault((name, str(row.get("axis", ""))), float(rng.uniform(0, step)))
                row[name] = round((row[name] - off) / step) * step + off
    found["setup"]["resolution_mm"] = step
    if "repeatability_mm" in found["setup"]:  # a history was read off the same display
        found["setup"]["repeatability_mm"] *= math.hypot(1.0, step / SIGMA / math.sqrt(12.0))
    if found["procedure"] in ("tip-runout", "face-level"):
        found["setup"]["indicator"] = {**found["setup"].get("indicator", {}), "resolution_mm": step}
    return found, made[1]


def figures(cases: int = CASES) -> Iterator[str]:
    """Give the share of intervals that hold the truth, by what is unlike."""
    for name, simulate in UNLIKE.items():
        for use in (False, True) if name in ALIKE_HISTORY else (False,):
            yield _figure(name, use, simulate, cases)
    for name, simulate in {**SIMULATORS, **UNLIKE}.items():
        if name in SEVERAL_DISPLAYS:
            continue
        for use in (False, True):
            if not use or name not in UNLIKE or name in ALIKE_HISTORY:
                yield _figure(f"{name}, coarse display", use, partial(_read_coarsely, simulate), cases)


def _read_coarsely(simulate: Simulator, rng: np.random.Generator, n: int, setup: dict[str, Any]) -> Simulated:
    return coarse(rng, simulate(rng, n, setup))


def _figure(name: str, use: bool, simulate: Simulator, cases: int) -> str:
    rng, inside, tried = np.random.default_rng(5), np.zeros(4), np.zeros(4)
    by: dict[str, list[int]] = {}
    for i in range(cases):
        found, truth = simulate(rng, 2 + i % 4, history(rng, use))
        result = evaluate(found)
        for what, value in truth.items():
            e = result.quantity(what).estimate
            if e is None:
                continue
            hit = abs(e.value - truth_of(value, result)) <= e.expanded + 1e-12
            tried[i % 4] += 1
            inside[i % 4] += hit
            row = by.setdefault(what, [0, 0])
            row[0], row[1] = row[0] + hit, row[1] + 1
    words = ", ".join(f"{100 * share:.1f}" for share in inside / np.maximum(tried, 1))
    each = ", ".join(f"{what} {100 * hit / count:.1f}" for what, (hit, count) in by.items())
    known = "with history" if use else "from the touches alone"
    whole = 100.0 * inside.sum() / max(tried.sum(), 1)
    return f"{name}, {known}: {whole:.1f} % ({words} with 2, 3, 4, 5 touches; {each})"


if __name__ == "__main__":
    for figure in figures():
        print(figure, flush=True)
