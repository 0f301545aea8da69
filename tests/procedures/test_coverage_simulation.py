"""Stated 95 % intervals hold the truth: a small simulator of its own against `evaluate`."""

import numpy as np
import pytest

from nonna.procedures.catalogue import evaluate

CASES = 1200
TOUCH, PLANE_U, MASTER_U = 0.0008, 0.0006, 0.0004


def hits(rng, touches, history, kind):
    """Share of cases whose interval holds the truth, for a tool length or a trigger plane."""
    inside = 0
    for _ in range(CASES):
        setup = {}
        if history:  # a history of ten touches: itself only an estimate
            setup = {"repeatability_mm": float(TOUCH * np.sqrt(rng.chisquare(9) / 9)), "repeatability_dof": 9.0}
        document, name, truth = _tool(rng, touches, setup) if kind == "tool-length" else _setter(rng, touches, setup)
        found = evaluate(document).quantity(name).estimate
        inside += abs(found.value - truth) <= found.expanded
    return inside / CASES


def _tool(rng, n, setup):
    length, plane = 112.4, -452.4
    stated = plane + rng.normal(0, PLANE_U)
    readings = [{"position_mm": z} for z in length + plane + rng.normal(0, TOUCH, n)]
    setup = {**setup, "trigger_plane_mm": stated, "trigger_plane_u_mm": PLANE_U}
    return _document("tool-length", setup, {}, readings), "length_mm", length


def _setter(rng, n, setup):
    true_20, cte, t = 140.0, rng.normal(11.5e-6, 1e-6), rng.normal(23.0, 0.3)
    plane = -452.4
    z = plane + true_20 * (1 + cte * (t - 20)) + rng.normal(0, TOUCH, n)
    master = {
        "length_mm": true_20 + rng.normal(0, MASTER_U),
        "U_length_mm": 2 * MASTER_U,
        "k": 2,
        "cte_per_k": 11.5e-6,
        "cte_u_per_k": 1e-6,
    }
    document = _document(
        "setter-calibration", setup, {"master": master}, [{"face": "top", "position_mm": v} for v in z]
    )
    return document | {"conditions": {"temperature_c": 23.0, "temperature_u_c": 0.3}}, "trigger_plane_mm", plane


def _document(procedure, setup, masters, readings):
    return {
        "format": "nonna-readings/1",
        "procedure": procedure,
        "setup": setup,
        "masters": masters,
        "readings": readings,
    }


@pytest.mark.parametrize("kind", ["tool-length", "setter-calibration"])
@pytest.mark.parametrize("history", [False, True])
def test_intervals_hold_the_truth(kind, history):
    rng = np.random.default_rng(20261123)
    shares = [hits(rng, n, history, kind) for n in (2, 3, 4, 5)]
    assert min(shares) >= 0.925, shares
    assert 0.94 <= np.mean(shares) <= 0.965, shares


def test_a_single_touch_with_history_holds_the_truth():
    assert 0.935 <= hits(np.random.default_rng(7), 1, True, "tool-length") <= 0.965
