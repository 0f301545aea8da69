"""Hidden truths of the loop's procedures: each gives a readings document and what its results should be."""

import math

import numpy as np

from nonna.metrology.doubt.coverage import carried_dof
from nonna.procedures.catalogue import evaluate
from tests.support.examples import document

SIGMA = 0.0008


def truth_of(value, result):
    """What a result should be; some truths hang on where the result is given."""
    return value(result) if callable(value) else value


def carried(k):
    """Degrees of freedom a result carries on, None for endless ones."""
    dof = carried_dof(k)
    return None if math.isinf(dof) else dof


def history(rng, use):
    """A history of ten touches, itself only an estimate; or nothing."""
    if not use:
        return {}
    return {"repeatability_mm": float(SIGMA * np.sqrt(rng.chisquare(9) / 9)), "repeatability_dof": 9.0}


def runout(rng, n, setup):
    e, high, mpe = 0.01, rng.uniform(0, 2 * math.pi), 0.002
    t = np.arange(n + 3) * 2 * math.pi / (n + 3)
    dial = rng.uniform(-mpe, mpe) / 2  # the dial reads the swing wrong by up to its mpe
    y = 0.3 + (e + dial) * np.cos(t - high) + rng.normal(0, SIGMA, t.size)
    rows = [{"angle_deg": float(np.degrees(a)), "value_mm": float(v)} for a, v in zip(t, y, strict=True)]
    doc = document("tip-runout", {**setup, "indicator": {"mpe_mm": mpe}}, rows)
    return doc, {"eccentricity_mm": e, "runout_mm": 2 * e}


def high_spot(rng, n, setup):
    doc, _ = runout(rng, n, setup)
    high = rng.uniform(20, 340)
    t = np.radians([r["angle_deg"] for r in doc["readings"]])
    y = 0.3 + 0.01 * np.cos(t - math.radians(high)) + rng.normal(0, SIGMA, t.size)
    for r, v in zip(doc["readings"], y, strict=True):
        r["value_mm"] = float(v)
    return doc, {"high_spot_deg": high}


def face(rng, n, setup):
    sx, sy = rng.normal(0, 0.001, 2)
    places = [(0, 0), (5, 0), (-5, 0), (0, 5), (0, -5), (4, 4), (-4, 4), (4, -4), (-4, -4)][: n + 2]
    rows = [{"x_mm": x, "y_mm": y, "value_mm": sx * x + sy * y + rng.normal(0, SIGMA)} for x, y in places]
    doc = document("face-level", {**setup, "pad_x_mm": 14, "pad_y_mm": 12}, rows)
    return doc, {"rise_x_mm": sx * 14, "rise_y_mm": sy * 12, "slope_x": sx}


def beam(rng, n, setup):
    dz, dc = rng.normal(0, 0.01, 2)
    rows = [
        {"end": end, "z_mm": z + rng.normal(0, SIGMA), "cross_mm": c + rng.normal(0, 3 * SIGMA)}
        for end, z, c in (("A", 0, 0), ("B", dz, dc))
        for _ in range(n)
    ]
    setup = {**setup, "span_mm": 60}
    truth = (
        {"z_per_100_mm": dz * 100 / 60}
        if setup.get("repeatability_mm")
        else {"z_deviation_mm": dz, "cross_per_100_mm": dc / 0.6}
    )
    return document("beam-level", setup, rows), truth


def probe_length(rng, n, setup):
    u = 0.0006
    rows = [{"position_mm": -330.9 + rng.normal(0, SIGMA)} for _ in range(n)]
    setup = {
        **setup,
        "surface_mm": -452.4 + rng.normal(0, u),
        "surface_u_mm": u,
        "correction_mm": rng.normal(0, u),
        "correction_u_mm": u,
    }
    return document("probe-length", setup, rows), {"probe_length_mm": 121.5}


def ring(rng, n, setup):
    offset, centre, ball = rng.normal(0, 0.01, 2), rng.normal(100, 1, 2), 3.0
    certified, cte, temperature = 50.0, rng.normal(11.5e-6, 1e-6), rng.normal(23, 0.3)
    wall = certified / 2 * (1 + cte * (temperature - 20)) - ball
    rows = []
    for turn, sign in ((0, 1), (180, -1)):
        for i in range(n + 2):
            t = 2 * math.pi * i / (n + 2)
            x, y = centre - sign * offset + (wall + rng.normal(0, SIGMA)) * np.array([math.cos(t), math.sin(t)])
            rows.append({"spindle_deg": turn, "x_mm": x, "y_mm": y})
    master = {
        "diameter_mm": certified + rng.normal(0, 4e-4),
        "U_diameter_mm": 8e-4,
        "k": 2,
        "cte_per_k": 11.5e-6,
        "cte_u_per_k": 1e-6,
    }
    doc = document("probe-ring", {**setup, "side": "internal"}, rows, masters={"ring": master})
    doc["conditions"] = {"temperature_c": 23.0, "temperature_u_c": 0.3}
    truth = {"ball_radius_mm": ball, "offset_x_mm": offset[0], "ring_y_mm": centre[1]}
    return doc, truth


def artefact(rng, n, setup):
    true, u = 32.0, 0.0005
    loop = rng.normal(0, u)
    rows = [{"value_mm": true + loop + rng.normal(0, SIGMA)} for _ in range(n)]
    card = {"diameter_mm": true + rng.normal(0, 4e-4), "U_diameter_mm": 8e-4, "k": 2}
    doc = document(
        "artefact-check", {**setup, "quantity": "diameter", "calibration_u_mm": u}, rows, masters={"artefact": card}
    )
    return doc, {"error_mm": 0.0}


def closure(rng, n, setup):
    d = rng.normal(0, 0.003)
    rows = [{"via": v, "height_mm": z + rng.normal(0, SIGMA)} for v, z in (("tool", 0), ("probe", d)) for _ in range(n)]
    return document("loop-closure", setup, rows), {"difference_mm": d}


def diameter(rng, n, setup):
    true, width, centre, feed = 16.0, 14.0, 720.0, 0.006
    one = rng.uniform() < 0.4
    rows = [
        {
            "face": f,
            "position_mm": centre + way * (true + width) / 2 - way * rng.uniform(0, feed) + rng.normal(0, SIGMA),
        }
        for f, way in ((("+x", 1),) if one else (("+x", 1), ("-x", -1)))
        for _ in range(n)
    ]
    setup = {
        **setup,
        "feed_per_rev_mm": feed,
        "setter_width_mm": width + rng.normal(0, 6e-4),
        "setter_width_u_mm": 6e-4,
    }
    setup |= {"setter_centre_mm": centre + rng.normal(0, 5e-4), "setter_centre_u_mm": 5e-4}
    return document("tool-diameter", setup, rows), {"diameter_mm": true}


def breakage(rng, n, setup):
    change, plane = rng.normal(0, 0.05), -452.4
    rows = [{"position_mm": plane + 112.4 + change + rng.normal(0, SIGMA)} for _ in range(n)]
    setup = {**setup, "trigger_plane_mm": plane + rng.normal(0, 6e-4), "trigger_plane_u_mm": 6e-4}
    setup |= {"reference_mm": 112.4 + rng.normal(0, 8e-4), "reference_u_mm": 8e-4}
    setup |= {"tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2}
    return document("breakage", setup, rows), {"change_mm": change, "length_mm": 112.4 + change}


def work_offset(rng, n, setup):
    rows = [{"position_mm": -400.0 + 121.5 + 50 + rng.normal(0, SIGMA)} for _ in range(n)]
    setup = {**setup, "tool_length_mm": 121.5 + rng.normal(0, 8e-4), "tool_length_u_mm": 8e-4}
    setup |= {"height_mm": 50 + rng.normal(0, 4e-4), "height_u_mm": 4e-4}
    return document("work-offset", setup, rows), {"offset_mm": -400.0}


def presetter(rng, n, setup):
    """Two masters and a proof on an axis whose zero and scale are wrong; one temperature, three expansions."""
    offset, scale, shows = 0.012, 60e-6, rng.choice(["diameter", "radius"])
    warm, cte = rng.normal(22.5, 0.3), 11.5e-6
    masters, rows = {}, []
    for role, sizes in (("low", (60.0, 10.0)), ("high", (240.0, 60.0)), ("proof", (140.0, 16.0))):
        real = [size * (1 + (cte + rng.normal(0, 1e-6)) * (warm - 20)) for size in sizes]
        masters[role] = {
            "length_mm": sizes[0] + rng.normal(0, 4e-4), "U_length_mm": 8e-4,
            "diameter_mm": sizes[1] + rng.normal(0, 4e-4),
            "U_diameter_mm": 8e-4, "k": 2, "cte_per_k": cte, "cte_u_per_k": 1e-6,
        }  # fmt: skip
        for axis, true in zip("zx", real, strict=True):
            f = 0.5 if axis == "x" and shows == "diameter" else 1.0
            true = true / 2 if axis == "x" and shows == "radius" else true
            for _ in range(n):
                rows.append(
                    {"master": role, "axis": axis, "value_mm": (true - offset) / (1 + scale) + rng.normal(0, SIGMA) / f}
                )
    doc = document(
        "presetter-calibration", {**setup, "x_shows": str(shows)}, rows, masters=masters,
        conditions={"temperature_c": 22.5, "temperature_u_c": 0.3},
    )  # fmt: skip

    def at_pivot(axis):
        return lambda result: offset + scale * result.quantity(f"{axis}_pivot_mm").value

    return doc, {
        "z_scale_ppm": scale * 1e6,
        "x_scale_ppm": scale * 1e6,
        "z_offset_mm": at_pivot("z"),
        "x_offset_mm": at_pivot("x"),
        "z_proof_error_mm": 0.0,
        "x_proof_error_mm": 0.0,
    }


def presetter_tool(rng, n, setup):
    true, wide, shows = 112.4, 16.0, rng.choice(["diameter", "radius"])
    u, u_scale = 5e-4, 5e-6
    given = {"x_shows": str(shows)}
    rows = []
    for axis, size, pivot in (("z", true, 150.0), ("x", wide if shows == "diameter" else wide / 2, 30.0)):
        f = 0.5 if axis == "x" and shows == "diameter" else 1.0
        offset, scale = 0.012, 60e-6
        shown = pivot + (size - offset - pivot) / (1 + scale)
        given |= {
            f"{axis}_offset_mm": offset + rng.normal(0, u), f"{axis}_offset_u_mm": u, f"{axis}_pivot_mm": pivot,
            f"{axis}_scale_ppm": scale * 1e6 + rng.normal(0, u_scale * 1e6), f"{axis}_scale_u_ppm": u_scale * 1e6,
        }  # fmt: skip
        rows += [{"axis": axis, "value_mm": shown + rng.normal(0, SIGMA) / f} for _ in range(n)]
    return document("presetter-tool", {**setup, **given}, rows), {"length_mm": true, "diameter_mm": wide}


def transfer(rng, n, setup):
    model = "line" if n > 3 else "offset"
    slope = 3e-5 if model == "line" else 0.0
    lengths = rng.uniform(60, 220, n + 2)
    rows = [
        {"tool": k, "presetter_mm": x, "machine_mm": x + 0.012 + slope * x + rng.normal(0, SIGMA)}
        for k, x in enumerate(lengths.tolist())
    ]
    return document("presetter-transfer", {**setup, "model": model}, rows), {
        "transfer_mm": 0.012 + slope * float(lengths.mean()), "trend_ppm": slope * 1e6,
    }  # fmt: skip


def home(rng, n, setup):
    """A pin found once by as many touches, then again after the home moved."""
    at, moved, rows, found = (412.0, 88.0, -120.0), rng.normal(0, 0.01, 3), [], {}
    for axis, pin, went in zip("xyz", at, moved, strict=True):
        rows += [{"axis": axis, "position_mm": pin + went + rng.normal(0, SIGMA)} for _ in range(n)]
    first = evaluate(
        document(
            "home-check", setup,
            [{"axis": a, "position_mm": p + rng.normal(0, SIGMA)} for a,
                p in zip("xyz", at, strict=True) for _ in range(n)],
        )
    )  # fmt: skip
    for axis in "xyz":
        pin = first.quantity(f"pin_{axis}_mm").estimate
        found |= {f"pin_{axis}_mm": pin.value, f"pin_{axis}_u_mm": pin.u, f"pin_{axis}_dof": carried(pin.k)}
    return document("home-check", {**setup, **found}, rows), {
        f"moved_{axis}_mm": went for axis, went in zip("xyz", moved, strict=True)
    }  # fmt: skip


def rack(rng, n, setup):
    turn, pitch, rise = rng.uniform(0.2, 6.0), 60.0, 0.02
    rows = []
    for p in range(1, n + 4):
        place = (100 + p * pitch * math.cos(turn), 50 + p * pitch * math.sin(turn), -80 + rise * p)
        at = np.array(place) + rng.normal(0, 0.02, 3)
        for face, position in (
            ("+x", at[0] + 25),
            ("-x", at[0] - 25),
            ("+y", at[1] + 25),
            ("-y", at[1] - 25),
            ("top", at[2]),
        ):
            rows.append({"pocket": p, "face": face, "position_mm": position + rng.normal(0, SIGMA)})
    doc = document("rack-pockets", {**setup, "holder_diameter_mm": 40, "rod_diameter_mm": 10}, rows)
    return doc, {"pitch_mm": pitch, "direction_deg": math.degrees(turn), "rise_mm": rise}


SIMULATORS = {
    "presetter": presetter, "tool on the presetter": presetter_tool, "transfer": transfer, "rack": rack,
    "home": home,
    "tool diameter": diameter, "breakage": breakage, "work offset": work_offset,
    "run-out": runout, "high spot": high_spot, "face level": face, "beam level": beam, "probe length": probe_length,
    "probe ring": ring, "artefact check": artefact, "loop closure": closure,
}  # fmt: skip
