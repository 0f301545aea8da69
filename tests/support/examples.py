"""One sound readings document of each procedure of the loop, for tests that go over all of them."""

import math

from nonna.shop.cards.job import JobTool
from nonna.stations.mill.planning.plan import plan_job

RING = {"diameter_mm": 50.0018, "U_diameter_mm": 0.0008, "k": 2, "cte_per_k": 11.5e-6, "cte_u_per_k": 1e-6}
NOISE = (3, -2, 1, 0, -3, 2, -1, 2, -2, 1, 3, -1, 0, -3, 2, 1)


def document(procedure, setup, readings, **more):
    return {"format": "nonna-readings/1", "procedure": procedure, "setup": setup, "readings": readings, **more}


def ring_touches(
    offset=(0.004, -0.002), lobe=0.001, radius=22.0, centre=(100.0, 50.0), noise=1e-4, turns=(0, 180), n=8
):
    """Touches in a ring whose wall the ball's centre meets at a radius; lobes sit on the probe."""
    made = []
    for turn in turns:
        sign = 1 if turn == 0 else -1
        for i in range(n):
            t = 2 * math.pi * i / n
            r = radius - lobe * math.cos(3 * (t - math.radians(turn))) + noise * NOISE[(i + turn) % 16] / 3
            made.append({
                "spindle_deg": turn,
                "x_mm": centre[0] + r * math.cos(t) - sign * offset[0],
                "y_mm": centre[1] + r * math.sin(t) - sign * offset[1],
            })  # fmt: skip
    return made


RUNOUT = document(
    "tip-runout",
    {"limit_mm": 0.005, "screws_deg": [0, 90, 180, 270], "indicator": {"resolution_mm": 0.001}},
    [{"angle_deg": 45 * i, "value_mm": round(0.02 + 0.012 * math.cos(math.radians(45 * i - 30)), 3)} for i in range(8)],
)
FACE = document(
    "face-level",
    {
        "limit_mm": 0.005, "pad_x_mm": 14, "pad_y_mm": 12,
        "screws": [
            {"name": "left", "x_mm": -20, "y_mm": 0, "pitch_mm": 0.5, "pivot": True},
            {"name": "right", "x_mm": 20, "y_mm": 0, "pitch_mm": 0.5},
        ],
    },
    [
        {"x_mm": x, "y_mm": y, "value_mm": 0.1 + 0.001 * x - 0.0002 * y + 1e-5 * n}
        for (x, y), n in zip(((0, 0), (5, 0), (-5, 0), (0, 4), (0, -4)), NOISE, strict=False)
    ],
)  # fmt: skip
BEAM = document(
    "beam-level",
    {"limit_z_mm_per_100": 0.010, "limit_cross_mm_per_100": 1.0, "span_mm": 50,
        "adjuster": {"distance_mm": 80, "pitch_mm": 0.5}},
    [
        {"end": end, "z_mm": z + 1e-4 * n, "cross_mm": c + 1e-3 * n}
        for end, z, c in (("A", -400.0, 60.0), ("B", -399.99, 60.1))
        for n in (1, -2, 1)
    ],
)  # fmt: skip
LENGTH = document(
    "probe-length",
    {"surface_mm": -452.4, "surface_u_mm": 0.0006},
    [{"position_mm": -330.9 + 1e-4 * n} for n in NOISE[:4]],
)
IN_RING = document(
    "probe-ring", {"side": "internal", "limit_lobing_mm": 0.003, "limit_offset_mm": 0.005}, ring_touches(),
    masters={"ring": RING}, conditions={"temperature_c": 21.4, "temperature_u_c": 0.3},
)  # fmt: skip
ARTEFACT = document(
    "artefact-check",
    {"quantity": "diameter", "limit_mm": 0.004, "calibration_u_mm": 0.0004},
    [{"value_mm": 32.0011 + 1e-4 * n} for n in NOISE[:4]],
    masters={"artefact": {"diameter_mm": 32.0006, "U_diameter_mm": 0.0008, "k": 2}},
)
CLOSURE = document(
    "loop-closure",
    {"limit_mm": 0.01},
    [{"via": via, "height_mm": z + 2e-4 * n} for via, z in (("tool", -400.0), ("probe", -399.997)) for n in NOISE[:3]],
)
DIAMETER = document(
    "tool-diameter",
    {
        "limit_mm": 0.02,
        "expected_mm": 16.0,
        "setter_width_mm": 13.99,
        "setter_width_u_mm": 0.0005,
        "feed_per_rev_mm": 0.004,
    },
    [{"face": f, "position_mm": x + 2e-4 * n} for f, x in (("+x", 735.0), ("-x", 705.01)) for n in NOISE[:3]],
)
BREAK = document(
    "breakage",
    {
        "reference_mm": 112.4, "reference_u_mm": 0.001, "tolerance_short_mm": 0.2, "tolerance_long_mm": 0.1,
        "wear_mm": 0.05,
        "trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006,
    },
    [{"position_mm": -340.0 + 2e-4 * n} for n in NOISE[:3]],
)  # fmt: skip
OFFSET = document(
    "work-offset",
    {"tool_length_mm": 121.5, "tool_length_u_mm": 0.0008, "height_mm": 50.0, "height_u_mm": 0.0003},
    [{"position_mm": -230.0 + 2e-4 * n} for n in NOISE[:3]],
)
TEETH = document(
    "tooth-runout",
    {"limit_mm": 0.02, "resolution_mm": 0.0001},
    [
        {"tooth": t, "position_mm": -391.2 + back + 2e-4 * n}
        for t, back in ((1, 0.0), (2, -0.012), (3, 0.004))
        for n in NOISE[:2]
    ],
)
LOW = {
    "length_mm": 60.0012,
    "diameter_mm": 10.0004,
    "U_length_mm": 0.0008,
    "U_diameter_mm": 0.0008,
    "k": 2,
    "cte_per_k": 11.5e-6,
}
HIGH = {**LOW, "length_mm": 240.0021, "diameter_mm": 60.0009}
PROOF = {**LOW, "length_mm": 140.0032, "diameter_mm": 16.0006}
PRESETTER = document(
    "presetter-calibration",
    {"limit_proof_mm": 0.01, "limit_scale_ppm": 100.0},
    [
        {"master": role, "axis": axis, "value_mm": value + 2e-4 * n}
        for role, length, diameter in (("low", 60.013, 9.994), ("high", 240.0208, 59.996), ("proof", 140.0182, 15.9942))
        for axis, value in (("z", length), ("x", diameter))
        for n in NOISE[:3]
    ],
    masters={"low": LOW, "high": HIGH, "proof": PROOF},
    conditions={"temperature_c": 21.5, "temperature_u_c": 0.3},
)
ON_PRESETTER = document(
    "presetter-tool",
    {
        "z_offset_mm": -0.012, "z_offset_u_mm": 0.0005, "z_pivot_mm": 150.0, "z_scale_ppm": -40.0, "z_scale_u_ppm": 5.0,
        "x_offset_mm": 0.006, "x_offset_u_mm": 0.0007, "x_pivot_mm": 35.0, "x_scale_ppm": -20.0, "x_scale_u_ppm": 12.0,
        "expected_length_mm": 112.4, "limit_length_mm": 0.05,
    },
    [
        {"axis": axis, "value_mm": value + 2e-4 * n}
        for axis, value in (("z", 112.42), ("x", 15.99))
        for n in NOISE[:3]
    ],
)  # fmt: skip
FROM_PRESETTER = document(
    "tool-from-presetter",
    {
        **{k: v for k, v in ON_PRESETTER["setup"].items() if k[0] in "zx"}, "transfer_mm": -0.004,
        "transfer_u_mm": 0.002,
        "transfer_dof": 4.0, "trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006, "expected_mm": 112.4,
        "limit_mm": 0.05,
    },
    ON_PRESETTER["readings"],
)  # fmt: skip
TRANSFER = document(
    "presetter-transfer",
    {"limit_mm": 0.02},
    [
        {"tool": k + 1, "presetter_mm": long, "machine_mm": long + 0.012 + 8e-4 * n}
        for k, (long, n) in enumerate(zip((74.2, 96.5, 112.4, 131.0, 168.3, 201.7), NOISE, strict=False))
    ],
)
RACK = document(
    "rack-pockets",
    {"holder_diameter_mm": 40.0, "rod_diameter_mm": 10.0, "limit_off_line_mm": 0.2},
    [
        {"pocket": p, "face": face, "position_mm": at + 4e-3 * NOISE[(3 * p + k) % 16] + 1e-3 * twice}
        for p in range(1, 9)
        for k, (face, at) in enumerate(
            (("+x", 60.0 * p + 25.0), ("-x", 60.0 * p - 25.0), ("+y", 900.3), ("-y", 850.3), ("top", -80.0 + 0.01 * p))
        )
        for twice in (0, 1)
    ],
)
FINE = tuple(2e-4 * n for n in NOISE)
CUT = document(
    "lathe-offset-cut", {"machine_x_mm": 120.0, "machine_z_mm": -50.0,
        "indicator": {"resolution_mm": 0.001, "mpe_mm": 0.002}},
    [{"axis": "x", "value_mm": 40.012 + n} for n in FINE[:3]] + [{"axis": "z", "value_mm": 1.5 + n} for n in FINE[2:5]],
)  # fmt: skip
IN_CHUCK = document(
    "lathe-offset-master", {"feeler_mm": 0.05, "feeler_u_mm": 0.0005, "face_mm": 96.412, "face_u_mm": 0.001,
        "repeatability_mm": 0.001},
    [{"axis": "x", "chuck_deg": turn, "position_mm": -146.3 + off + 2 * n} for turn,
        off in ((0, 0.012), (180, -0.012)) for n in FINE[:2]]
    + [{"axis": "z", "chuck_deg": turn, "position_mm": -46.1 + n} for turn in (0, 180) for n in FINE[2:4]],
    masters={"master": {"diameter_mm": 16.0006, "U_diameter_mm": 0.001, "k": 2, "cte_per_k": 1.15e-5}},
)  # fmt: skip
ARM = document(
    "lathe-arm",
    {
        "reference_x_mm": -80.0, "reference_x_u_mm": 0.0012, "reference_z_mm": 51.5, "reference_z_u_mm": 0.0011,
        "limit_range_mm": 0.01,
    },
    [
        {"face": face, "position_mm": at + 2 * n}
        for face, at in (("+x", 150.0), ("-x", 126.0), ("+z", -20.0), ("-z", -32.0))
        for n in FINE[:3]
    ],
)  # fmt: skip
TIP = document(
    "lathe-tip",
    {
        "plane_x_mm": 70.0, "plane_x_u_mm": 0.0014, "plane_z_mm": 31.5, "plane_z_u_mm": 0.0012, "expected_x_mm": -62.49,
        "expected_x_u_mm": 0.0005, "expected_z_mm": 44.0, "expected_z_u_mm": 0.0006, "limit_mm": 0.2,
    },
    [{"axis": axis, "position_mm": at + n} for axis, at in (("x", 132.5), ("z", -12.51)) for n in FINE[:3]],
)  # fmt: skip
FLANKS = TIP | {
    "setup": TIP["setup"] | {"plane_minus_z_mm": 21.4, "plane_minus_z_u_mm": 0.0014, "expected_z_mm": 43.93},
    "readings": [r for r in TIP["readings"] if r["axis"] == "x"]
    + [{"axis": "z", "face": face, "position_mm": at + n} for face,
        at in (("+z", -8.5), ("-z", -26.6)) for n in FINE[:3]],
}  # fmt: skip
LATHE_RING = document(
    "lathe-ring", {"side": "internal"},
    [{"at": at, "position_mm": x + n} for at, x in (("+", 46.01), ("-", -45.99)) for n in FINE[:3]],
    masters={"ring": {"diameter_mm": 50.0018, "U_diameter_mm": 0.0008, "k": 2, "cte_per_k": 1.15e-5}},
)  # fmt: skip
SECOND = document(
    "second-side",
    {"limit_mm": 0.05, "repeatability_mm": 0.001},
    [
        {"angle_deg": 60 * i, "position_mm": 40.0 + 0.03 * math.cos(math.radians(60 * i - 40)) + 4 * FINE[i]}
        for i in range(6)
    ],
)
PART = document(
    "lathe-measure",
    {
        "feature": "diameter", "side": "external", "nominal_mm": 40.0, "ball_diameter_mm": 4.0,
        "ball_diameter_u_mm": 0.0009,
        "lower_mm": -0.03, "upper_mm": 0.03, "wear_mm": 0.05,
    },
    [{"at": at, "position_mm": x + n} for at, x in (("+", 44.02), ("-", -44.01)) for n in FINE[:3]],
)  # fmt: skip
CHUCK = document(
    "chuck-runout", {"limit_mm": 0.05},
    [
        {"angle_deg": 60.0 * i, "position_mm": 40.0 + 0.03 * math.cos(math.radians(60.0 * i - 40.0)) + FINE[i]}
        for i in range(6)
    ],
)  # fmt: skip
CENTRE = document(
    "lathe-centre", {"machine_x_mm": -125.9, "limit_height_mm": 0.05,
        "indicator": {"resolution_mm": 0.001, "mpe_mm": 0.002}},
    [{"at": at, "value_mm": 0.05 + value + 0.0004 * n} for n in range(2) for at,
        value in (("+x", 0.008), ("+y", -0.003), ("-x", -0.008), ("-y", 0.003))],
)  # fmt: skip
LATENCY = document(
    "trigger-latency",
    {"resolution_mm": 0.0001},
    [
        {"feed_mm_min": feed, "position_mm": -312.4 - 0.002 * feed / 60 + 3e-4 * n}
        for feed in (50, 200, 400)
        for n in NOISE[:5]
    ],
)


EXAMPLES = {
    d["procedure"]: d
    for d in (
        LATENCY,
        TEETH,
        RUNOUT,
        FACE,
        BEAM,
        LENGTH,
        IN_RING,
        ARTEFACT,
        CLOSURE,
        DIAMETER,
        BREAK,
        OFFSET,
        PRESETTER,
        ON_PRESETTER,
        FROM_PRESETTER,
        TRANSFER,
        RACK,
        CUT,
        IN_CHUCK,
        ARM,
        TIP,
        LATHE_RING,
        PART,
        CHUCK,
        SECOND,
        CENTRE,
    )
}


def length_plan(machine, tools, touches=3):
    """The one planner's program for these tools' lengths."""
    wanted = [JobTool.model_validate({**t.model_dump(), "measure": ["length"]}) for t in tools]
    return plan_job(machine, wanted, touches, 0.002).program
