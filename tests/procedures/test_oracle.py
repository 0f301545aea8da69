"""Every procedure against its arithmetic written down a second time, on random documents of every shape."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.procedures.catalogue import evaluate
from tests.support.oracle import ORACLES

CARD = {
    "length_mm": 140.0032,
    "U_length_mm": 0.0008,
    "diameter_mm": 50.0018,
    "U_diameter_mm": 0.0009,
    "k": 2.0,
    "cte_per_k": 11.5e-6,
    "cte_u_per_k": 1e-6,
}


def made(name, dice):
    """Make a random document of a procedure: with history, resolution, limits and temperature or without."""
    setup, sigma = {}, dice.choice([2e-4, 1e-3])
    way = dice.integers(4)
    if way == 1:
        setup |= {"repeatability_mm": float(sigma * dice.uniform(0.7, 1.5))}
    elif way == 2:
        setup |= {"repeatability_mm": float(sigma), "repeatability_dof": float(dice.integers(4, 30))}
    elif way == 3:
        setup |= {"resolution_mm": float(dice.choice([1e-4, 2e-3]))}
    conditions = {"temperature_c": float(dice.uniform(15, 27)), "temperature_u_c": float(dice.choice([0.0, 0.3]))}
    n = int(dice.integers(2, 7))
    limited = bool(dice.integers(2))

    def noise(count):
        return dice.normal(0, sigma, count)

    def free():
        return [None, 1.0, 1.7, 3.0, 9.0][dice.integers(5)]

    def positions(at, count=n):
        return [{"position_mm": float(at + e)} for e in noise(count)]

    masters, readings = {}, []
    if name == "tool-length":
        setup |= {
            "trigger_plane_mm": -452.4,
            "trigger_plane_u_mm": float(dice.choice([0.0, 7e-4])),
            "trigger_plane_dof": free(),
            "feed_per_rev_mm": float(dice.choice([0.0, 0.004])),
        }
        readings = positions(-340.0)
        if limited:
            setup |= {"limit_mm": float(dice.choice([0.001, 0.02])), "expected_mm": 112.4 + float(dice.normal(0, 0.01))}
    elif name == "tool-diameter":
        setup |= {
            "setter_width_mm": 13.99, "setter_width_u_mm": 5e-4, "setter_width_dof": free(), "setter_centre_mm": 720.0,
            "setter_centre_u_mm": 3e-4, "setter_centre_dof": free(), "setter_width_y_mm": 13.97,
            "setter_width_y_u_mm": 4e-4,
            "setter_width_y_dof": free(), "setter_centre_y_mm": 60.0, "setter_centre_y_u_mm": 2e-4,
            "feed_per_rev_mm": float(dice.choice([0.0, 0.003])),
        }  # fmt: skip
        in_x, in_y = [("+x", 735.0), ("-x", 705.0)], [("+y", 75.0), ("-y", 45.0)]
        faces = [in_x, in_x[1:], in_y, in_y[:1], in_x + in_y, in_x[:1] + in_y][dice.integers(6)]
        readings = [{"face": face, "position_mm": float(x + e)} for face, x in faces for e in noise(n)]
    elif name == "setter-calibration":
        masters = {"master": CARD | {"diameter_mm": 16.0006}}
        setup |= {"school": str(dice.choice(["absolute", "relative"]))}
        faces = [("top", -312.4)] + [
            (f"{sign}{a}", c + s * 15)
            for a, c in (("x", 720.0), ("y", 60.0))
            for sign, s in (("+", 1), ("-", -1))
            if dice.integers(2) or a == "x"
        ]
        if sum(f[0][-1] == "y" for f in faces) == 1:
            faces = [f for f in faces if f[0][-1] != "y"]
        readings = [
            {"face": face, "position_mm": float(x + e)} for face, x in faces for e in noise(int(dice.integers(2, 5)))
        ]
    elif name == "probe-length":
        setup |= {
            "surface_mm": -452.4,
            "surface_u_mm": 8e-4,
            "surface_dof": free(),
            "correction_dof": free(),
            "correction_mm": 0.002,
            "correction_u_mm": float(dice.choice([0.0, 5e-4])),
        }
        readings = positions(-331.0)
    elif name == "work-offset":
        setup |= {
            "tool_length_mm": 112.4,
            "tool_length_u_mm": 9e-4,
            "tool_length_dof": free(),
            "height_dof": free(),
            "height_mm": 50.0,
            "height_u_mm": float(dice.choice([0.0, 2e-4])),
        }
        readings = positions(-230.0)
    elif name == "loop-closure":
        readings = [
            {"via": via, "height_mm": float(z + e)}
            for via, z in (("tool", -400.0), ("probe", -399.998))
            for e in noise(n)
        ]
        if limited:
            setup["limit_mm"] = float(dice.choice([0.0005, 0.002, 0.01]))
    elif name == "breakage":
        setup |= {
            "reference_mm": 112.4,
            "reference_u_mm": 5e-4,
            "reference_dof": free(),
            "feed_per_rev_mm": float(dice.choice([0.0, 0.003])),
            "tolerance_short_mm": 0.2,
            "tolerance_long_mm": 0.15,
            "wear_mm": float(dice.choice([0.0, 0.05])),
            "trigger_plane_mm": -452.4,
            "trigger_plane_u_mm": 7e-4,
            "trigger_plane_dof": free(),
        }
        readings = positions(-340.0 + float(dice.choice([0.0, -0.1, -0.3, 0.3, 0.02])))
    elif name == "artefact-check":
        quantity = str(dice.choice(["length", "diameter"]))
        masters, setup = (
            {"artefact": CARD},
            setup | {"quantity": quantity, "calibration_u_mm": 6e-4, "calibration_dof": free()},
        )
        if limited:
            setup["limit_mm"] = float(dice.choice([0.001, 0.004]))
        readings = [{"value_mm": float(CARD[f"{quantity}_mm"] + dice.normal(0, 0.001) + e)} for e in noise(n)]
    elif name == "beam-level":
        setup |= {"span_mm": float(dice.uniform(40, 200))}
        if limited:
            setup |= {"limit_z_mm_per_100": 0.01, "limit_cross_mm_per_100": 1.0}
        readings = [
            {"end": end, "z_mm": float(z + e), "cross_mm": float(c + 3 * e2)}
            for end, z, c in (("A", -400.0, 60.0), ("B", -399.99, 60.2))
            for e, e2 in zip(noise(n), noise(n), strict=True)
        ]
    elif name in ("tip-runout", "face-level"):
        setup.pop("resolution_mm", None)
        setup["indicator"] = {
            "resolution_mm": float(dice.choice([0.0, 0.001])),
            "mpe_mm": float(dice.choice([0.0, 0.003])),
            "lever_deg": float(dice.choice([0, 25])),
        }
        if limited:
            setup["limit_mm"] = float(dice.choice([0.002, 0.005, 0.05]))
        if name == "tip-runout":
            e, high = float(dice.choice([0.0004, 0.004, 0.02])), dice.uniform(0, 6)
            angles = np.arange(n + 4) * 360 / (n + 4) + dice.normal(0, 5, n + 4)
            readings = [
                {"angle_deg": float(a), "value_mm": float(0.01 + e * math.cos(math.radians(a) - high) + s)}
                for a, s in zip(angles, noise(n + 4), strict=True)
            ]
        else:
            setup |= {"pad_x_mm": 14.0, "pad_y_mm": 10.0}
            readings = [
                {"x_mm": float(x), "y_mm": float(y), "value_mm": float(4e-4 * x - 2e-4 * y + s)}
                for (x, y), s in zip(dice.uniform(-6, 6, (n + 4, 2)), noise(n + 4), strict=True)
            ]
    elif name == "probe-ring":
        side, turns = str(dice.choice(["internal", "external"])), [(0,), (0, 180)][dice.integers(2)]
        masters, setup = {"ring": CARD}, setup | {"side": side}
        radius = 25.0 + (-3.0 if side == "internal" else 3.0)
        for turn in turns:
            angles = np.arange(n + 3) * 2 * math.pi / (n + 3) + dice.normal(0, 0.1, n + 3)
            off = 0.004 if turn == 0 else -0.004
            readings += [
                {
                    "spindle_deg": turn,
                    "x_mm": float(320 + off + (radius + s) * math.cos(a)),
                    "y_mm": float(210 + (radius + s) * math.sin(a)),
                }
                for a, s in zip(angles, noise(n + 3), strict=True)
            ]
    else:
        setup.pop("resolution_mm", None)
        readings = [{"value_mm": float(-312.4 + 1e-5 * i + e)} for i, e in enumerate(noise(n + 5))]
        if limited:
            setup["limit_2s_mm"] = float(dice.choice([0.0003, 0.001, 0.005]))
    return {
        "format": "nonna-readings/1",
        "procedure": name,
        "setup": setup,
        "masters": masters,
        "conditions": conditions if masters else {},
        "readings": readings,
    }


@pytest.mark.parametrize("name", sorted(ORACLES))
@given(seed=st.integers(0, 2**31))
def test_the_program_and_the_rules_agree(name, seed):
    document = made(name, np.random.default_rng(seed))
    wanted = ORACLES[name](document)
    found = evaluate(document).to_document()
    verdict = wanted.pop("verdict", None)
    verdicts = {verdict} if verdict else set()
    for result, row in wanted.items():
        if result == "state":
            assert found["state"] == row
            continue
        got = found["results"][result]
        if not isinstance(row, dict):
            assert got["value"] == pytest.approx(row, rel=1e-6, abs=4e-9) and "u" not in got  # a range of two
            continue
        assert got["value"] == pytest.approx(row["value"], rel=1e-9, abs=2e-9), result
        assert got["u"] == pytest.approx(row["u"], rel=1e-6), result
        assert (got["dof"] or math.inf) == pytest.approx(row["dof"], rel=1e-5), result
        assert got["k"] == pytest.approx(row["k"], rel=1e-6) and got["U"] == pytest.approx(row["U"], rel=1e-6), result
        assert sum(b["share"] for b in found["budget"][result]) == pytest.approx(1.0)
        verdicts.add(row["verdict"])
    verdicts -= {"none"}
    if verdicts and name != "setter-calibration":
        order = ("fail", "undecided", "pass")
        assert found["verdict"] == next(v for v in order if v in verdicts)
