"""Gauge studies: a published layout worked by hand, simulated components, one gauge on one part, and what is
refused.
"""

import math

import numpy as np
import pytest
from scipy import stats

from nonna.errors import NonnaError
from nonna.metrology.gauge_study import crossed
from nonna.procedures.catalogue import evaluate
from tests.support.examples import document


def study(x, **setup):
    rows = [
        {"part": p + 1, "appraiser": f"P{o}", "value_mm": float(v)}
        for p in range(x.shape[0])
        for o in range(x.shape[1])
        for v in x[p, o]
    ]
    return document("gauge-study", {"kind": "crossed", **setup}, rows)


def values(result):
    return {q.name: q.value for q in result.quantities}


def test_a_small_study_by_hand():
    x = np.array([[[1.0, 1.2], [1.1, 1.3]], [[2.0, 2.2], [2.3, 2.1]]])
    mean = x.mean()
    ss_p = 4 * ((x.mean(axis=(1, 2)) - mean) ** 2).sum()
    ss_o = 4 * ((x.mean(axis=(0, 2)) - mean) ** 2).sum()
    ss_e = ((x - x.mean(axis=2, keepdims=True)) ** 2).sum()
    ss_i = ((x - mean) ** 2).sum() - ss_p - ss_o - ss_e
    p = stats.f.sf(ss_i / (ss_e / 4), 1, 4)
    assert p > 0.25
    ms_e = (ss_i + ss_e) / 5
    got = values(evaluate(study(x)))
    assert got["repeatability_mm"] == pytest.approx(math.sqrt(ms_e)) and got["interaction_p"] == pytest.approx(p)
    assert got["reproducibility_mm"] == pytest.approx(math.sqrt(max(0.0, (ss_o - ms_e) / 4)))
    assert got["parts_mm"] == pytest.approx(math.sqrt((ss_p - ms_e) / 4))
    assert got["both_mm"] == pytest.approx(math.hypot(got["repeatability_mm"], got["reproducibility_mm"]))
    assert got["total_mm"] == pytest.approx(math.hypot(got["both_mm"], got["parts_mm"]))
    assert got["categories"] == math.floor(1.41 * got["parts_mm"] / got["both_mm"])
    shares = evaluate(study(x)).to_document()["shares"]
    assert shares["both"] + shares["parts"] == pytest.approx(1.0) and shares["total"] == pytest.approx(1.0)


def test_an_interaction_belongs_to_the_people():
    dice = np.random.default_rng(1)
    x = dice.normal(0, 0.01, (6, 3, 3)) + dice.normal(0, 1.0, (6, 3, 1))
    found = crossed(x)
    assert found.interaction_p < 1e-6 and found.repeatability == pytest.approx(0.01, rel=0.3)
    assert found.reproducibility == pytest.approx(1.0, rel=0.5)


def test_components_are_found_on_average():
    dice, found = np.random.default_rng(2), []
    for _ in range(400):
        x = dice.normal(0, 0.3, (10, 3, 3)) + dice.normal(0, 0.4, (1, 3, 1)) + dice.normal(0, 2.0, (10, 1, 1))
        each = crossed(x)
        found.append((each.repeatability**2, each.reproducibility**2, each.parts**2))
    gauge, people, parts = np.mean(found, axis=0)
    assert (gauge, parts) == pytest.approx((0.09, 4.0), rel=0.08)
    assert 0.15 < people < 0.20  # a shade more than 0.16: an interaction by chance counts, its opposite is cut at 0


def test_order_and_names_of_readings_change_nothing():
    dice = np.random.default_rng(3)
    x = dice.normal(0, 1, (4, 2, 3))
    whole = study(x)
    turned = {**whole, "readings": [whole["readings"][k] for k in dice.permutation(24)]}
    assert values(evaluate(turned)) == pytest.approx(values(evaluate(whole)))
    assert values(evaluate(study(x + 7.0))) == pytest.approx(values(evaluate(whole)), rel=1e-9)


def test_one_gauge_on_one_part():
    readings = [10.002, 10.001, 10.003, 10.002, 10.0025]
    rows = [{"part": 1, "appraiser": 1, "value_mm": v} for v in readings]
    setup = {"kind": "single", "reference_mm": 10.0, "reference_u_mm": 0.0002, "tolerance_mm": 0.05}
    result = evaluate(document("gauge-study", setup, rows))
    got, s = values(result), np.std(readings, ddof=1)
    assert got["bias_mm"] == pytest.approx(0.0021) and got["cg"] == pytest.approx(0.2 * 0.05 / (6 * s))
    assert got["cgk"] == pytest.approx((0.1 * 0.05 - 0.0021) / (3 * s))
    assert got["bias_p"] == pytest.approx(stats.ttest_1samp(readings, 10.0).pvalue)
    assert result.quantity("bias_mm").estimate.u == pytest.approx(math.hypot(s / math.sqrt(5), 0.0002))
    without = evaluate(document("gauge-study", {k: v for k, v in setup.items() if k != "tolerance_mm"}, rows))
    assert set(values(without)) == {"bias_mm", "bias_p"}


@pytest.mark.parametrize(
    ("change", "code"),
    [
        (lambda x: x[:1], "too-few-readings"),
        (lambda x: x[:, :1], "too-few-readings"),
        (lambda x: x[:, :, :1], "too-few-readings"),
        (np.zeros_like, "no-repeatability"),
    ],
)
def test_what_is_too_small_or_never_scatters_is_refused(change, code):
    x = np.random.default_rng(4).normal(0, 1, (3, 2, 2))
    with pytest.raises(NonnaError) as refused:
        evaluate(study(change(x)))
    assert refused.value.code == code


def test_what_is_not_balanced_is_refused_by_name():
    whole = study(np.random.default_rng(5).normal(0, 1, (3, 2, 2)))
    with pytest.raises(NonnaError, match="Part 3 by P1 has 1 readings, others 2"):
        evaluate({**whole, "readings": whole["readings"][:-1]})
    single = document("gauge-study", {"kind": "single"}, [{"part": 1, "appraiser": 1, "value_mm": 0.1}] * 3)
    with pytest.raises(NonnaError) as refused:
        evaluate(single)
    assert (refused.value.code, refused.value.where) == ("missing-field", "setup.reference_mm")
