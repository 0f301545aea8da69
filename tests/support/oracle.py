"""The arithmetic of every procedure a second time, straight from the rules, with NumPy and scipy.stats alone.

Nothing of the program is imported here: what the program says is held against this.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy import optimize, stats

Z = stats.norm.ppf


@dataclass
class Source:
    """One source of doubt: standard uncertainty it gives, its freedom, whether it is rectangular."""

    u: float
    dof: float = math.inf
    rectangular: bool = False


def t_of(p, dof):
    return Z(p) if math.isinf(dof) else stats.t.ppf(p, dof)


def factor(sources, p=0.975):
    total = sum(s.u**2 for s in sources)
    z2 = Z(p) ** 2
    k2 = z2 - sum({0.975: 1.134, 0.95: 0.2755}[p] * (s.u**2 / total) ** 3 for s in sources if s.rectangular)
    finite = [(s.u**2 / total, s.dof) for s in sources if not s.rectangular and not math.isinf(s.dof)]
    if finite:
        a, b = sum(w**2 / nu for w, nu in finite), sum(w**3 / nu**2 for w, nu in finite)
        k2 += (a**2 / b) ** 2 * (t_of(p, a**3 / b**2) ** 2 - z2)
    return math.sqrt(k2)


def freedom(sources):
    total = sum(s.u**2 for s in sources)
    weight = sum(s.u**4 / s.dof for s in sources if not math.isinf(s.dof))
    return math.inf if weight == 0 else total**2 / weight


def given(setup, name, weight=1.0):
    """The source a carried value of a setup makes."""
    dof = setup.get(f"{name}_dof")
    return Source(weight * setup.get(f"{name}_u_mm", 0.0), math.inf if dof is None else dof)


def spoken(value, sources, limit=None, guarded=True):
    """Return value, u, dof, k, U and the verdict against a limit on |value|."""
    sources = [s for s in sources if s.u > 0]
    u = math.sqrt(sum(s.u**2 for s in sources))
    g = factor(sources, 0.95) * u if guarded else 0.0
    verdict = "none"
    if limit is not None:
        size = abs(value)
        verdict = "pass" if size + g <= limit else "fail" if size - g > limit else "undecided"
    k = factor(sources)
    return {"value": value, "u": u, "dof": freedom(sources), "k": k, "U": k * u, "verdict": verdict}


def scatter(variance_here, dof_here, setup, extra=0.0):
    """Return the variance of a touch, its freedom, the resolution's variance, and whether history was exceeded."""
    history = setup.get("repeatability_mm", 0.0)
    if history > 0:
        dof = setup.get("repeatability_dof") or math.inf
        v = history**2 + extra
        above = False
        if dof_here > 0:
            ratio = stats.chi2.ppf(0.99, dof_here) / dof_here if math.isinf(dof) else stats.f.ppf(0.99, dof_here, dof)
            above = variance_here / v > ratio
        return v, dof, -(setup.get("resolution_mm", 0.0) ** 2) / 12, above  # below 0: of a history
    return variance_here, dof_here, setup.get("resolution_mm", 0.0) ** 2 / 12, False


def of_mean(touch, n):
    """Variance and freedom of a mean of n touches: scatter or resolution, whichever gives the larger interval."""
    variance, dof, rounding, _ = touch
    v = variance / n
    if rounding < 0:  # a history holds the display of one touch; a mean is never better than the display
        return (v, dof) if v >= -rounding else (-rounding, math.inf)
    if rounding == 0:
        return v, dof
    if dof == 1:
        return max(v, rounding), 1
    return (v, dof) if t_of(0.975, dof) * math.sqrt(v) >= Z(0.975) * math.sqrt(rounding) else (rounding, math.inf)


def of_reading(touch):
    """Variance and freedom of one reading of a fit."""
    return (touch[0], touch[1]) if touch[2] < 0 else of_mean(touch, 1)


def pooled(groups):
    dof = sum(len(g) - 1 for g in groups)
    total = sum(float(np.sum((np.array(g) - np.mean(g)) ** 2)) for g in groups)
    return (total / dof if dof else 0.0), dof


def means(groups, setup, extra=0.0):
    """Return the touch, and for each group its mean with variance and freedom."""
    touch = scatter(*pooled(groups), setup, extra)
    return touch, [(float(np.mean(g)), *of_mean(touch, len(g))) for g in groups]


def axis_means(faces, setup, extra=0.0):
    """Return each face's mean, its variance and freedom from the touches of its own axis, and the axis' key."""
    axes = {face: "z" if face == "top" else face[1] for face in faces}
    history = setup.get("repeatability_mm", 0.0) > 0
    found = {}
    for face, values in faces.items():
        own = pooled([v for f, v in faces.items() if axes[f] == axes[face]])
        lone = own[1] == 0 and not history
        touch = scatter(*(pooled(list(faces.values())) if lone else own), setup, extra)
        found[face] = (float(np.mean(values)), *of_mean(touch, len(values)), "" if lone or history else axes[face])
    return found


def joined(parts):
    """Combine several means of one pooled scatter into sources (those of one freedom count once)."""
    by = {}
    for weight, (_, v, dof, *axis) in parts:
        by[dof, *axis] = by.get((dof, *axis), 0.0) + weight**2 * v
    return [Source(math.sqrt(v), key[0]) for key, v in by.items()]


def master(card, name, conditions, weight=1.0):
    """Return a certified size at temperature and its sources."""
    size, alpha = card[f"{name}_mm"], card.get("cte_per_k", 0.0)
    dt = conditions.get("temperature_c", 20.0) - 20.0
    value = size * (1 + alpha * dt)
    sources = [
        Source(weight * card.get(f"U_{name}_mm", 0.0) / card.get("k", 2.0) * (1 + alpha * dt)),
        Source(weight * abs(size * alpha) * conditions.get("temperature_u_c", 0.0)),
        Source(weight * abs(size * dt) * card.get("cte_u_per_k", 0.0)),
    ]
    return weight * value, sources


def lateness(s, weight=1.0):
    """Return how late a turning tool is touched, and the doubt of that: anything from equal edges to one alone."""
    f, z = s.get("feed_per_rev_mm", 0.0), s.get("flutes", 1)
    each = 1 / z if z else 0.0
    half = weight * f * (1 - each) / 4
    return weight * f * (1 + each) / 4, [Source(half / math.sqrt(3), rectangular=True)] if half else []


def tool_length(d):
    s, z = d["setup"], [r["position_mm"] for r in d["readings"]]
    f = s.get("feed_per_rev_mm", 0.0)
    _, (m,) = means([z], s, f**2 / 12)
    late, edges = lateness(s)
    value = m[0] - s["trigger_plane_mm"] + late
    found = spoken(value, [*joined([(1, m)]), given(s, "trigger_plane"), *edges])
    if "limit_mm" in s:
        change = spoken(value - s["expected_mm"], [*joined([(1, m)]), given(s, "trigger_plane"), *edges], s["limit_mm"])
        found["verdict"] = change["verdict"]
    return {"length_mm": found}


def tool_diameter(d):
    s, f = d["setup"], d["setup"].get("feed_per_rev_mm", 0.0)
    faces = {face: [r["position_mm"] for r in d["readings"] if r["face"] == face] for face in ("+x", "-x", "+y", "-y")}
    live = {k: v for k, v in faces.items() if v}
    by = axis_means(live, s, f**2 / 12)
    late, edges = lateness(s, 2.0)
    axes = sorted({face[1] for face in live})
    share, values, parts, sources = 1 / len(axes), [], [], []
    for axis in axes:
        end = "" if axis == "x" else "_y"
        mine = {face: row for face, row in by.items() if face[1] == axis}
        if len(mine) == 2:
            values.append(mine[f"+{axis}"][0] - mine[f"-{axis}"][0] - s[f"setter_width{end}_mm"] + late)
            parts += [(share, row) for row in mine.values()]
        else:
            (m,) = mine.values()
            reach = abs(m[0] - s[f"setter_centre{end}_mm"])
            values.append(2 * (reach - s[f"setter_width{end}_mm"] / 2) + late)
            parts.append((2 * share, m))
            sources.append(given(s, f"setter_centre{end}", 2 * share))
    widths = [given(s, "setter_width" + ("" if axis == "x" else "_y"), share) for axis in axes]
    together = Source(sum(w.u for w in widths), min(w.dof for w in widths))
    return {"diameter_mm": spoken(sum(values) / len(values), [*joined(parts), together, *sources, *edges])}


def setter_calibration(d):
    s, card, c = d["setup"], d["masters"]["master"], d.get("conditions", {})
    faces = {}
    for r in d["readings"]:
        faces.setdefault(r["face"], []).append(r["position_mm"])
    by = axis_means(faces, s)
    exact = s.get("school") == "relative"
    found = {}
    if "top" in by:
        long, sources = master(card, "length", c)
        found["trigger_plane_mm"] = spoken(
            by["top"][0] - long, [*joined([(1, by["top"])]), *([] if exact else sources)]
        )
    for a in "xy":
        if f"+{a}" in by:
            plus, minus = by[f"+{a}"], by[f"-{a}"]
            wide, sources = master(card, "diameter", c)
            found[f"centre_{a}_mm"] = spoken((plus[0] + minus[0]) / 2, joined([(0.5, plus), (0.5, minus)]))
            width = joined([(1, plus), (1, minus)])
            found[f"width_{a}_mm"] = spoken(plus[0] - minus[0] - wide, [*width, *([] if exact else sources)])
    return found


def probe_length(d):
    s, z = d["setup"], [r["position_mm"] for r in d["readings"]]
    _, (m,) = means([z], s)
    value = m[0] - s["surface_mm"] + s.get("correction_mm", 0.0)
    sources = [*joined([(1, m)]), given(s, "surface"), given(s, "correction")]
    return {"probe_length_mm": spoken(value, sources)}


def work_offset(d):
    s, z = d["setup"], [r["position_mm"] for r in d["readings"]]
    _, (m,) = means([z], s)
    value = m[0] - s["tool_length_mm"] - s.get("height_mm", 0.0)
    sources = [*joined([(1, m)]), given(s, "tool_length"), given(s, "height")]
    return {"offset_mm": spoken(value, sources)}


def loop_closure(d):
    groups = [[r["height_mm"] for r in d["readings"] if r["via"] == via] for via in ("tool", "probe")]
    _, (tool, probe) = means(groups, d["setup"])
    sources = joined([(1, tool), (1, probe)])
    return {"difference_mm": spoken(probe[0] - tool[0], sources, d["setup"].get("limit_mm"))}


def breakage(d):
    s, z = d["setup"], [r["position_mm"] for r in d["readings"]]
    f = s.get("feed_per_rev_mm", 0.0)
    _, (m,) = means([z], s, f**2 / 12)
    long = m[0] - s["trigger_plane_mm"] + f / 2
    base = [*joined([(1, m)]), given(s, "trigger_plane")]
    change = long - s["reference_mm"]
    state = "broken" if change < -s["tolerance_short_mm"] else "pulled-out" if change > s["tolerance_long_mm"] else "ok"
    if state == "ok" and s.get("wear_mm", 0.0) > 0 and change < -s["wear_mm"]:
        state = "worn"
    return {
        "length_mm": spoken(long, base),
        "change_mm": spoken(change, [*base, given(s, "reference")])
        | {"verdict": "pass" if state in ("ok", "worn") else "fail"},
        "state": state,
    }


def artefact_check(d):
    s, card = d["setup"], d["masters"]["artefact"]
    name = s["quantity"]
    _, (m,) = means([[r["value_mm"] for r in d["readings"]]], s)
    value, sources = master(card, name, d.get("conditions", {}))
    artefact, *rest = sources
    measuring = [x for x in (*joined([(1, m)]), given(s, "calibration"), *rest) if x.u > 0]
    found = spoken(m[0] - value, [*measuring, artefact], s.get("limit_mm"))
    dt = d.get("conditions", {}).get("temperature_c", 20.0) - 20.0
    u_artefact = card[f"U_{name}_mm"] / card["k"] * (1 + card["cte_per_k"] * dt)
    measured = factor(measuring) * math.sqrt(sum(x.u**2 for x in measuring))
    en = abs(found["value"]) / math.hypot(measured, 2 * u_artefact)
    verdicts = ["pass" if en <= 1 else "fail"] + ([found["verdict"]] if "limit_mm" in s else [])
    found["verdict"] = "fail" if "fail" in verdicts else "undecided" if "undecided" in verdicts else "pass"
    return {"error_mm": found, "en": en}


def beam_level(d):
    s, found = d["setup"], {}
    for name in ("z", "cross"):
        groups = [[r[f"{name}_mm"] for r in d["readings"] if r["end"] == end] for end in ("A", "B")]
        _, (a, b) = means(groups, s)
        sources = joined([(1, a), (1, b)])
        scale = 100.0 / s["span_mm"]
        found[f"{name}_deviation_mm"] = spoken(b[0] - a[0], sources)
        found[f"{name}_per_100_mm"] = spoken(
            (b[0] - a[0]) * scale, [Source(x.u * scale, x.dof) for x in sources], s.get(f"limit_{name}_mm_per_100")
        )
    return found


def _linear(design, y, setup, resolution):
    x = np.array(design)
    beta, *_ = np.linalg.lstsq(x, y, rcond=None)
    left = y - x @ beta
    dof = len(y) - x.shape[1]
    touch = scatter(float(left @ left) / dof, dof, {**setup, "resolution_mm": resolution})
    variance, freed = of_reading(touch)
    return beta, np.linalg.inv(x.T @ x), left, variance, freed


def _dial(setup):
    dial = setup.get("indicator", {})
    cosine = math.cos(math.radians(dial.get("lever_deg", 0.0)))
    return cosine, dial.get("resolution_mm", 0.0) * cosine, dial.get("mpe_mm", 0.0) * cosine


def tip_runout(d):
    s = d["setup"]
    cosine, resolution, mpe = _dial(s)
    t = np.radians([r["angle_deg"] for r in d["readings"]])
    y = np.array([r["value_mm"] for r in d["readings"]]) * cosine
    beta, cov, left, variance, dof = _linear(np.column_stack((np.ones_like(t), np.cos(t), np.sin(t))), y, s, resolution)
    e = math.hypot(beta[1], beta[2])
    g = np.array([0.0, beta[1] / e, beta[2] / e])
    sources = [
        Source(math.sqrt(variance * float(g @ cov @ g)), dof),
        Source(mpe / (2 * math.sqrt(3)), rectangular=True),
    ]
    found = {}
    for name, scale in (("eccentricity_mm", 1.0), ("runout_mm", 2.0)):
        limit = s.get("limit_mm") if name == "runout_mm" else None
        row = spoken(scale * e, [Source(x.u * scale, x.dof, x.rectangular) for x in sources], limit)
        if e < 3 * row["u"] / scale:
            f = stats.f.ppf(0.95, 2, row["dof"]) if not math.isinf(row["dof"]) else stats.chi2.ppf(0.95, 2) / 2
            row["k"] = max(row["k"], math.sqrt(2 * f))
            row["U"] = row["k"] * row["u"]
        found[name] = row
    h = np.array([0.0, -beta[2], beta[1]]) / e**2
    u_high = math.degrees(math.sqrt(variance * float(h @ cov @ h)))
    if u_high < 60:
        found["high_spot_deg"] = spoken(math.degrees(math.atan2(beta[2], beta[1])) % 360, [Source(u_high, dof)])
    return found | {"form_mm": float(np.ptp(left)), "fim_mm": float(np.ptp(y))}


def face_level(d):
    s = d["setup"]
    cosine, resolution, mpe = _dial(s)
    x, y = (np.array([r[k] for r in d["readings"]]) for k in ("x_mm", "y_mm"))
    z = np.array([r["value_mm"] for r in d["readings"]]) * cosine
    beta, cov, left, variance, dof = _linear(np.column_stack((np.ones_like(x), x, y)), z, s, resolution)
    found = {"flatness_mm": float(np.ptp(left))}
    for i, (axis, pad) in enumerate((("x", s["pad_x_mm"]), ("y", s["pad_y_mm"])), 1):
        u = math.sqrt(variance * cov[i, i]) * pad
        sources = [Source(u, dof), Source(mpe / math.sqrt(3), rectangular=True)]
        found[f"rise_{axis}_mm"] = spoken(beta[i] * pad, sources, s.get("limit_mm"))
    return found


def probe_ring(d):
    s, card = d["setup"], d["masters"]["ring"]
    turns = sorted({r["spindle_deg"] for r in d["readings"]})
    groups = [np.array([(r["x_mm"], r["y_mm"]) for r in d["readings"] if r["spindle_deg"] == t]) for t in turns]
    start = np.concatenate([*(g.mean(axis=0) for g in groups), [0.0]])
    start[-1] = np.mean([np.hypot(*(g - g.mean(axis=0)).T).mean() for g in groups])

    def miss(b):
        return np.concatenate([np.hypot(*(g - b[2 * i : 2 * i + 2]).T) - b[-1] for i, g in enumerate(groups)])

    fit = optimize.least_squares(miss, start, xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale=1.0)
    rows = []
    for i, g in enumerate(groups):
        away = (g - fit.x[2 * i : 2 * i + 2]) / np.hypot(*(g - fit.x[2 * i : 2 * i + 2]).T)[:, None]
        block = np.zeros((len(g), len(start)))
        block[:, 2 * i : 2 * i + 2], block[:, -1] = -away, -1.0
        rows.append(block)
    jacobian = np.vstack(rows)
    cov, dof = np.linalg.inv(jacobian.T @ jacobian), len(jacobian) - len(start)
    touch = scatter(float(fit.fun @ fit.fun) / dof if dof else 0.0, dof, s)
    variance, freed = of_reading(touch)
    sign = 1 if s["side"] == "internal" else -1
    radius, sources = master(card, "diameter", d.get("conditions", {}), 0.5)
    found = {
        "ball_radius_mm": spoken(
            sign * (radius - fit.x[-1]), [Source(math.sqrt(variance * cov[-1, -1]), freed), *sources]
        )
    }
    seen = np.concatenate([sign * (radius - np.hypot(*(g - fit.x[2 * i : 2 * i + 2]).T)) for i, g in enumerate(groups)])
    found["lobing_mm"] = float(np.ptp(seen))
    if turns == [0, 180]:
        for name, half in (("offset", (-0.5, 0.5)), ("ring", (0.5, 0.5))):
            for i, axis in enumerate("xy"):
                w = np.zeros(5)
                w[i], w[2 + i] = half
                found[f"{name}_{axis}_mm"] = spoken(
                    float(w @ fit.x), [Source(math.sqrt(variance * float(w @ cov @ w)), freed)]
                )
    return found


def repeatability(d):
    v = np.array([r["value_mm"] for r in d["readings"]])
    n, s = len(v), float(np.std(v, ddof=1))
    line = stats.linregress(np.arange(n), v)
    found = {"s_mm": s, "two_s_mm": 2 * s, "range_mm": float(np.ptp(v)), "p": float(line.pvalue)}
    if d["setup"].get("resolution_mm", 0.0) == 0.0:
        found["drift_mm_per_touch"] = spoken(float(line.slope), [Source(float(line.stderr), n - 2)])
    limit = d["setup"].get("limit_2s_mm")
    if limit is not None:
        low, high = (2 * s * math.sqrt((n - 1) / stats.chi2.ppf(p, n - 1)) for p in (0.95, 0.05))
        found["verdict"] = "pass" if high <= limit else "fail" if low > limit else "undecided"
    return found


ORACLES = {
    "tool-length": tool_length, "tool-diameter": tool_diameter, "setter-calibration": setter_calibration,
    "probe-length": probe_length,
    "work-offset": work_offset, "loop-closure": loop_closure, "breakage": breakage, "artefact-check": artefact_check,
    "beam-level": beam_level, "tip-runout": tip_runout, "face-level": face_level, "probe-ring": probe_ring,
    "repeatability": repeatability,
}  # fmt: skip
