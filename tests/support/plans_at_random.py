"""Machines, tools and programs by chance, looked through by a checker of its own."""

import random

from nonna.programs.writing.writer import write
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine
from nonna.stations.mill.planning.plan import plan_job
from tests.support.dialects import PLAIN_OR_BRANCHING
from tests.support.plan_checker import Checker, Stop

KINDS = (
    "drill", "spot-drill", "tap", "reamer", "end-mill", "ball-mill", "bull-mill", "face-mill", "chamfer-mill",
    "slitting-saw",
    "t-slot", "dovetail", "thread-mill", "boring-bar", "probe", "master",
)  # fmt: skip


def machine(dice):
    top = dice.choice([0.0, 0.0, 300.0])
    x, y = dice.uniform(400, 1500), dice.uniform(300, 900)
    plane, high = top - dice.uniform(380, 480), dice.uniform(25, 90)
    pad, at = dice.uniform(5, 45), (dice.uniform(90, x - 90), dice.uniform(90, y - 90))
    walls = []
    for i in range(dice.randrange(3)):
        a = (dice.uniform(0, x - 80), dice.uniform(0, y - 80))
        if not (a[0] - 60 < at[0] < a[0] + 140 and a[1] - 60 < at[1] < a[1] + 140):
            walls.append(
                {
                    "name": f"wall {i}",
                    "box_mm": [[*a, plane - high], [a[0] + 80, a[1] + 80, plane + dice.uniform(-20, 200)]],
                }
            )
    return {
        "format": "nonna-machine/1", "name": "M", "kind": dice.choice(["mill", "router"]),
        "travel_mm": {"x": [0, x], "y": [0, y], "z": [plane - 20, top]}, "rapid_mm_min": {"xy": 20000, "z": 12000},
        "acceleration_mm_s2": {"xy": dice.choice([400, 3000]), "z": dice.choice([300, 2500])},
        "tool_change_z_mm": top - dice.choice([0.0, 0.0, 50.0]), "max_rpm": dice.choice([300, 8000, 24000]),
        "pocket_count": dice.choice([0, 24]), "spindle_orient": dice.random() < 0.5, "obstacles": walls,
        "trigger_latency_s": dice.choice([0.0, 0.002, 0.01]), "trigger_jitter_s": dice.choice([0.0, 0.0003]),
        "spindle_run_down_s": dice.choice([0.5, 2.0, 8.0]),
        "setter": {
            "x_mm": at[0], "y_mm": at[1], "trigger_plane_mm": plane, "shape": dice.choice(["disc", "square"]),
            "width_x_mm": pad,
            "width_y_mm": pad, "height_mm": high, "overtravel_mm": dice.uniform(0.4, 8),
            "clear_sides": dice.sample(["+x", "-x", "+y", "-y"], dice.randrange(1, 5)),
        },
    }  # fmt: skip


def tool(dice, number):
    kind, d = dice.choice(KINDS), dice.choice([0.8, 3.0, 6.0, 8.0, 10.0, 16.0, 32.0, 63.0, 125.0])
    long, doubt = dice.uniform(50, 190), dice.choice([0.0, 0.02, 0.5, 3.0])
    row = {
        "number": number, "kind": kind, "diameter_mm": d, "length_mm": long, "length_uncertainty_mm": doubt,
        "flutes": dice.choice([0, 1, 2, 4, 6]),
        "hand": dice.choice(["right", "left"]), "material": dice.choice(["carbide", "hss"]),
        "measure": dice.choice([["length"], ["length", "diameter"], ["diameter"]]),
        "centre_cutting": kind not in ("face-mill",) and dice.random() < 0.7,
    }  # fmt: skip
    if kind in ("bull-mill", "end-mill", "face-mill") and dice.random() < 0.5:
        row["corner_radius_mm"] = min(dice.choice([0.4, 2.0, 6.0]), d / 3)
    if kind in ("chamfer-mill", "slitting-saw"):
        row["tip_diameter_mm"] = dice.choice([0.0, d / 4, d / 2])
    if kind in ("drill", "spot-drill"):
        row["point_angle_deg"] = dice.choice([0.0, 90.0, 140.0])
    if dice.random() < 0.1:
        row["max_rpm"] = dice.choice([5, 400])
    return row, long + doubt * dice.uniform(-1, 1)


def checked(seed):
    """Return what the checker says of one program, how many tools were planned, and how many touched."""
    dice = random.Random(seed)
    card, branching = machine(dice), bool(seed % 2)
    rows, lengths = zip(*(tool(dice, n + 1) for n in range(dice.randrange(1, 6))), strict=True)
    plan = plan_job(
        Machine.model_validate(card),
        [JobTool.model_validate(r) for r in rows],
        dice.randrange(1, 4),
        dice.choice([0.001, 0.01]),
    )
    text = write(plan.program, dialect=PLAIN_OR_BRANCHING[branching])
    eyes = Checker(card, rows, branching, {r["number"]: long for r, long in zip(rows, lengths, strict=True)})
    eyes.at[:2] = [sum(card["travel_mm"][a]) / 2 for a in "xy"]
    eyes.at[2] = card["tool_change_z_mm"]
    try:
        eyes.run(text)
    except Stop as stop:
        eyes.say(0, str(stop))
    kept = [p for p in plan.tools if not p.refused]
    missing = {p.tool.number for p in kept} - {number for number, _ in eyes.touched}
    return [*eyes.said, *(f"T{number} is never touched" for number in sorted(missing))], len(kept), text
