"""Whole chains with hidden truths: each link evaluated from its file, its result carried into the next by name."""

import numpy as np

from nonna.metrology.doubt.coverage import carried_dof
from nonna.procedures.catalogue import evaluate
from tests.support.examples import document

SIGMA, PLANE, LONG, PROBE = 0.0008, -452.4, 140.0, 121.5


def carried(result, name, to, factor=1.0):
    """The three fields that carry a result on."""
    e = result.quantity(name).estimate
    dof = carried_dof(e.k)
    return {f"{to}_mm": e.value, f"{to}_u_mm": e.u * factor, f"{to}_dof": None if np.isinf(dof) else dof}


def history(rng, use):
    """A history of the 25 touches advised, itself an estimate, the same for every link of a chain; or nothing."""
    known = SIGMA * float(np.sqrt(rng.chisquare(24) / 24))
    return {"repeatability_mm": known, "repeatability_dof": 24.0} if use else {}


def touches(rng, at, n):
    return [{"position_mm": float(v)} for v in at + rng.normal(0, SIGMA, n)]


def setter(rng, n, past):
    """A setter calibrated with a certified master: plane and width."""
    master = {
        "length_mm": LONG + rng.normal(0, 4e-4), "U_length_mm": 8e-4, "diameter_mm": 16.0 + rng.normal(0, 4e-4),
        "U_diameter_mm": 8e-4, "k": 2,
    }  # fmt: skip
    places = {"top": PLANE + LONG, "+x": 15.0, "-x": -15.0, "+y": 15.0, "-y": -15.0}
    rows = [{"face": f, "position_mm": float(z)} for f, at in places.items() for z in at + rng.normal(0, SIGMA, n)]
    return evaluate(document("setter-calibration", past, rows, masters={"master": master}))


def tool_length(rng, n, past):
    setup = {**past, **carried(setter(rng, n, past), "trigger_plane_mm", "trigger_plane")}
    return evaluate(document("tool-length", setup, touches(rng, PLANE + 112.4, n))).quantity(
        "length_mm"
    ).estimate, 112.4


def diameter(rng, n, past):
    calibrated = setter(rng, n, past)
    setup = {**past, **carried(calibrated, "width_x_mm", "setter_width")}
    rows = [
        {"face": f, "position_mm": float(x)}
        for f, at in (("+x", 13.0), ("-x", -13.0))
        for x in at + rng.normal(0, SIGMA, n)
    ]
    return evaluate(document("tool-diameter", setup, rows)).quantity("diameter_mm").estimate, 12.0


def breakage(rng, n, past):
    """A reference and a check on one plane: its doubt cancels in the change."""
    plane = carried(setter(rng, n, past), "trigger_plane_mm", "trigger_plane")
    first = (
        evaluate(document("tool-length", {**past, **plane}, touches(rng, PLANE + 112.4, n)))
        .quantity("length_mm")
        .estimate
    )
    own = first.part("setup.trigger_plane_mm")
    setup = {
        **past, **plane, "reference_mm": first.value, "reference_u_mm": own[0].u, "same_plane": True,
        "reference_dof": None if np.isinf(own[0].dof) else own[0].dof, "tolerance_short_mm": 0.2,
        "tolerance_long_mm": 0.2,
        **({} if past else {"reference_touches": n}),
    }  # fmt: skip
    found = evaluate(document("breakage", setup, touches(rng, PLANE + 112.39, n)))
    return found.quantity("change_mm").estimate, -0.01


def probe_length(rng, n, past):
    setup = {**past, **carried(setter(rng, n, past), "trigger_plane_mm", "surface")}
    return evaluate(document("probe-length", setup, touches(rng, PLANE + PROBE, n)))


def work_offset(rng, n, past):
    setup = {**past, **carried(probe_length(rng, n, past), "probe_length_mm", "tool_length")}
    return evaluate(document("work-offset", setup, touches(rng, -400.0 + PROBE, n))).quantity(
        "offset_mm"
    ).estimate, -400.0


def closure(rng, n, past):
    """The difference of two chains as their tables stand, found by touching one surface through both."""
    probe = probe_length(rng, n, past).quantity("probe_length_mm").value
    tool, _ = tool_length(rng, n, past)
    rows = [
        {"via": via, "height_mm": float(true - used + e)}
        for via, true, used in (("tool", 112.4, tool.value), ("probe", PROBE, probe))
        for e in rng.normal(0, SIGMA, n)
    ]
    found = evaluate(document("loop-closure", past, rows)).quantity("difference_mm").estimate
    return found, (PROBE - probe) - (112.4 - tool.value)


def proof_of(rng, n, past, probe):
    """A step of known height measured through the probe: the error stated against its artefact."""
    card = {"length_mm": 60.0 + rng.normal(0, 4e-4), "U_length_mm": 8e-4, "k": 2}
    length = probe.quantity("probe_length_mm").value
    rows = [{"value_mm": float(60.0 + PROBE - length + e)} for e in rng.normal(0, SIGMA, n)]
    setup = {**past, "quantity": "length", **carried(probe, "probe_length_mm", "calibration")}
    del setup["calibration_mm"]
    return evaluate(document("artefact-check", setup, rows, masters={"artefact": card})).quantity(
        "error_mm"
    ).estimate, 0.0


def proof(rng, n, past):
    return proof_of(rng, n, past, probe_length(rng, n, past))


CHAINS = {
    "tool length": tool_length, "tool diameter": diameter, "breakage": breakage, "work offset": work_offset,
    "closure": closure, "proof": proof,
}  # fmt: skip


def share(chain, n, use, cases, seed=20261126):
    """Share of the chain's last intervals that hold the truth."""
    rng = np.random.default_rng([seed, n, use])
    inside = 0
    for _ in range(cases):
        found, truth = CHAINS[chain](rng, n, history(rng, use))
        inside += abs(found.value - truth) <= found.expanded
    return inside / cases
