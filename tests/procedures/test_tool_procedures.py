"""Diameter, breakage, thresholds and work offset: worked by hand, and what is wrong named."""

import copy
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.metrology.thresholds import design, false_alarm, missed
from nonna.procedures.catalogue import evaluate
from tests.support.examples import BREAK, DIAMETER, OFFSET, document

WANTED = {"sigma_mm": 0.002, "drift_mm": 0.01, "smallest_break_mm": 0.2, "false_alarm": 0.001, "missed": 0.001}


def found(doc, **setup):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    return evaluate(made).to_document()


def test_diameter_from_both_sides_and_from_one():
    r = found(DIAMETER)["results"]["diameter_mm"]
    plus, minus = ([x["position_mm"] for x in DIAMETER["readings"] if x["face"] == f] for f in ("+x", "-x"))
    assert r["value"] == pytest.approx(np.mean(plus) - np.mean(minus) - 13.99 + 0.004)
    s2 = (np.var(plus, ddof=1) + np.var(minus, ddof=1)) / 2
    assert r["u"] == pytest.approx(math.sqrt(2 * s2 / 3 + 0.0005**2))
    one = {**DIAMETER, "readings": DIAMETER["readings"][:3]}
    r = found(one, setter_centre_mm=720.0, setter_centre_u_mm=0.0003)["results"]["diameter_mm"]
    assert r["value"] == pytest.approx(2 * (np.mean(plus) - 720 - 13.99 / 2 + 0.002))
    assert r["u"] == pytest.approx(math.sqrt(4 * np.var(plus, ddof=1) / 3 + 0.0005**2 + 4 * 0.0003**2))
    other = {**DIAMETER, "readings": DIAMETER["readings"][3:]}
    assert found(other, setter_centre_mm=720.0)["results"]["diameter_mm"]["value"] == pytest.approx(
        2 * (720 - np.mean(minus) - 13.99 / 2 + 0.002)
    )
    history = found(DIAMETER, repeatability_mm=0.001)["results"]["diameter_mm"]
    assert history["u"] == pytest.approx(math.sqrt(2 * (0.001**2 + 0.004**2 / 12) / 3 + 0.0005**2))
    assert found(DIAMETER)["verdict"] == "pass"
    assert found(DIAMETER, expected_mm=16.1)["verdict"] == "fail"


@pytest.mark.parametrize(
    ("change", "state", "verdict"),
    [
        (0.0, "ok", "pass"), (-0.06, "worn", "pass"), (-0.3, "broken", "fail"), (0.15, "pulled-out", "fail"),
        (0.05, "ok", "pass"),
    ],
)  # fmt: skip
def test_states_of_a_tool(change, state, verdict):
    doc = {**BREAK, "readings": [{"position_mm": r["position_mm"] + change} for r in BREAK["readings"]]}
    got = found(doc)
    assert (got["state"], got["verdict"]) == (state, verdict)
    assert ("worn" in got["flags"]) is (state == "worn")
    assert got["results"]["change_mm"]["value"] == pytest.approx(change, abs=2e-4)
    assert got["results"]["length_mm"]["value"] == pytest.approx(112.4 + change, abs=2e-4)


def test_a_close_call_and_a_missing_tool():
    near = {**BREAK, "readings": [{"position_mm": r["position_mm"] - 0.199} for r in BREAK["readings"]]}
    assert "close-call" in found(near)["flags"]
    assert "close-call" not in found(BREAK)["flags"]
    assert found(BREAK, wear_mm=0.0)["state"] == "ok"
    gone = found({**BREAK, "readings": [{"no_trigger": True, "lowest_mm": -380.0}]})
    assert (gone["state"], gone["verdict"]) == ("missing", "fail")
    assert gone["results"]["least_gone_mm"]["value"] == pytest.approx(112.4 - (-380.0 + 452.4))


def test_work_offset_by_hand():
    r = found(OFFSET)["results"]["offset_mm"]
    values = [x["position_mm"] for x in OFFSET["readings"]]
    assert r["value"] == pytest.approx(np.mean(values) - 171.5)
    assert r["u"] == pytest.approx(math.sqrt(np.var(values, ddof=1) / 3 + 0.0008**2 + 0.0003**2))


@given(
    sigma=st.floats(1e-4, 0.02), drift=st.floats(0, 0.05), size=st.floats(0.01, 1),
    wanted_false=st.floats(1e-9, 0.3), wanted_missed=st.floats(1e-9, 0.3),
)  # fmt: skip
def test_a_threshold_keeps_its_promise(sigma, drift, size, wanted_false, wanted_missed):
    t = design(sigma, drift, size, wanted_false, wanted_missed)
    assert t.false_alarm == false_alarm(t.tolerance, sigma, drift) <= wanted_false * (1 + 1e-9)
    assert t.missed == missed(t.tolerance, sigma, drift, size)
    if t.possible:
        assert t.missed <= wanted_missed * (1 + 1e-6)
        assert t.tolerance == pytest.approx((t.least + t.most) / 2)
    else:
        assert missed(t.least, sigma, drift, size) > wanted_missed * (1 - 1e-6)
        assert t.tolerance == t.least
    assert false_alarm(t.least * 0.999, sigma, drift) >= wanted_false * 0.999


@given(
    sigma=st.sampled_from([5e-324, 1e-308, 1e-160, 1e-9, 1.0, 1e6]), drift=st.sampled_from([0.0, 5e-324, 0.01, 1e6]),
    wanted=st.sampled_from([1e-300, 1e-3, 0.5, 0.999999]),
)  # fmt: skip
def test_a_threshold_is_found_whatever_the_sizes(sigma, drift, wanted):
    t = design(sigma, drift, 0.2, wanted, 0.001)
    assert 0.0 <= t.least < math.inf and t.false_alarm <= wanted


def test_threshold_documents():
    got = found(document("breakage-threshold", WANTED, []))
    assert got["possible"] is True
    assert got["verdict"] == "none"
    assert got["results"]["tolerance_mm"]["value"] == pytest.approx(
        (0.01 + 3.0902 * 0.002 + 0.19 - 3.0902 * 0.002) / 2, abs=1e-4
    )
    assert found(document("breakage-threshold", WANTED, []), smallest_break_mm=0.02)["possible"] is False
    rng = np.random.default_rng(1)
    tol = found(
        document("breakage-threshold", WANTED | {"false_alarm": 0.02, "missed": 0.02, "smallest_break_mm": 0.03}, [])
    )
    t = tol["results"]["tolerance_mm"]["value"]
    good = rng.normal(0.01, 0.002, 200_000)
    assert np.mean(np.abs(good) > t) == pytest.approx(tol["results"]["false_alarm"]["value"], abs=0.002)
    assert np.mean(rng.normal(-0.03 + 0.01, 0.002, 200_000) > -t) == pytest.approx(
        tol["results"]["missed"]["value"], abs=0.002
    )


THRESHOLD = document("breakage-threshold", WANTED, [])
BAD = [
    (DIAMETER, "setup", {"setter_width_mm": 14.0, "limit_mm": 0.1}, "missing-field", "setup.expected_mm"),
    (DIAMETER, "setup", {}, "missing-field", "setup.setter_width_mm"),
    (DIAMETER, "readings", DIAMETER["readings"][:3], "missing-field", "setup.setter_centre_mm"),
    (DIAMETER, "readings", [], "too-few-readings", "readings"),
    (DIAMETER, "readings", [{"face": "top", "position_mm": 1}], "out-of-range", "readings[0].face"),
    (DIAMETER, "readings", [{"face": "+y", "position_mm": 1}], "missing-field", "setup.setter_width_y_mm"),
    (DIAMETER, "setup", {}, "missing-field", "setup.setter_width_mm"),
    (BREAK, "readings", [{}], "missing-field", "readings[0].position_mm"),
    (BREAK, "readings", [{"no_trigger": True}], "missing-field", "readings[0].lowest_mm"),
    (
        BREAK,
        "readings",
        [{"no_trigger": True, "lowest_mm": 1, "position_mm": 2}],
        "unknown-field",
        "readings[0].position_mm",
    ),
    (BREAK, "readings", [{"position_mm": 2.0}], "no-repeatability", "readings"),
    (BREAK, "setup", {**BREAK["setup"], "tolerance_long_mm": -1}, "out-of-range", "setup.tolerance_long_mm"),
    (OFFSET, "setup", {}, "missing-field", "setup.tool_length_mm"),
    (THRESHOLD, "setup", {**WANTED, "missed": 0}, "out-of-range", "setup.missed"),
    (THRESHOLD, "setup", {**WANTED, "sigma_mm": 0}, "out-of-range", "setup.sigma_mm"),
    (THRESHOLD, "setup", {k: v for k, v in WANTED.items() if k != "false_alarm"}, "missing-field", "setup.false_alarm"),
]


@pytest.mark.parametrize(("doc", "part", "value", "code", "where"), BAD)
def test_what_is_wrong_is_named_with_its_place(doc, part, value, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate({**doc, part: value})
    assert (caught.value.code, caught.value.where) == (code, where)
