"""The presetter's procedures: by hand, by what must always hold, and refused where they should be."""

import copy
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import Source, coverage_factor
from nonna.metrology.doubt.quantiles import student_t
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.shapes.two_masters import line_through
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.facts import SheetFacts
from nonna.wording.lengths import Units
from tests.support.examples import HIGH, LOW, ON_PRESETTER, PRESETTER, PROOF, TRANSFER


def got(doc, **setup):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    return evaluate(made).to_document()


def only(doc, **fields):
    made = copy.deepcopy(doc)
    made["readings"] = [r for r in made["readings"] if all(r[k] in v for k, v in fields.items())]
    return made


def means(axis):
    roles = ("low", "high", "proof")
    of = {m: [r["value_mm"] for r in PRESETTER["readings"] if (r["master"], r["axis"]) == (m, axis)] for m in roles}
    s2 = sum(sum((v - np.mean(vs)) ** 2 for v in vs) for vs in of.values()) / 6
    return {m: float(np.mean(vs)) for m, vs in of.items()}, s2


@pytest.mark.parametrize(("axis", "size"), [("z", "length_mm"), ("x", "diameter_mm")])
def test_two_masters_and_a_proof_by_hand(axis, size):
    r, s2 = means(axis)
    masters = {"low": LOW, "high": HIGH, "proof": PROOF}
    true = {m: card[size] * (1 + 11.5e-6 * 1.5) for m, card in masters.items()}
    warm = {m: card[size] * 11.5e-6 * 0.3 for m, card in masters.items()}
    y = {m: true[m] - r[m] for m in true}
    v = {m: 0.0004**2 * (1 + 11.5e-6 * 1.5) ** 2 + s2 / 3 + warm[m] ** 2 for m in true}
    c = warm["low"] * warm["high"]
    pivot = (r["low"] * (v["high"] - c) + r["high"] * (v["low"] - c)) / (v["low"] + v["high"] - 2 * c)
    scale = (y["high"] - y["low"]) / (r["high"] - r["low"])
    found = got(PRESETTER)["results"]
    assert found[f"{axis}_pivot_mm"] == {"value": pytest.approx(pivot, abs=1e-6), "unit": "mm"}
    assert found[f"{axis}_scale_ppm"]["value"] == pytest.approx(scale * 1e6)
    assert found[f"{axis}_scale_ppm"]["unit"] == "ppm"
    u_scale = math.sqrt(v["low"] + v["high"] - 2 * c) / (r["high"] - r["low"])
    assert found[f"{axis}_scale_ppm"]["u"] == pytest.approx(u_scale * 1e6)
    offset = y["low"] + scale * (pivot - r["low"])
    assert found[f"{axis}_offset_mm"]["value"] == pytest.approx(offset)
    error = r["proof"] + offset + scale * (r["proof"] - pivot) - true["proof"]
    assert found[f"{axis}_proof_error_mm"]["value"] == pytest.approx(error, abs=1e-9)
    t = (pivot - r["low"]) / (r["high"] - r["low"])
    u_offset = math.sqrt((1 - t) ** 2 * v["low"] + t**2 * v["high"] + 2 * t * (1 - t) * c)
    assert found[f"{axis}_offset_mm"]["u"] == pytest.approx(u_offset)
    far = (r["proof"] - r["low"]) / (r["high"] - r["low"])
    touches = math.sqrt(s2 / 3 * (1 + (1 - far) ** 2 + far**2))
    cards = 0.0004 * (1 + 11.5e-6 * 1.5) * math.hypot(1 - far, far)
    heat = abs((1 - far) * warm["low"] + far * warm["high"] - warm["proof"])
    sources = [Source("touch", touches, 6), Source("masters", cards, math.inf), Source("heat", heat, math.inf)]
    expanded = coverage_factor(sources) * math.sqrt(touches**2 + cards**2 + heat**2)
    certified = 2 * 0.0004 * (1 + 11.5e-6 * 1.5)
    assert found[f"{axis}_proof_en"]["value"] == pytest.approx(abs(error) / math.hypot(expanded, certified), rel=1e-3)


@given(st.floats(0.0, 2.0), st.floats(1e-4, 0.01), st.floats(1e-4, 0.01))
def test_offset_and_scale_are_uncorrelated_at_the_pivot(u_temperature, u_low, u_high):
    influences = Influences()
    warm = influences.add("temperature", 21.0, u_temperature)
    true = [
        influences.add("master", size, u) * (1 + 1e-5 * (warm - 20)) for size, u in ((60.0, u_low), (240.0, u_high))
    ]
    shown = tuple(influences.add("touch", size, 0.0005) for size in (60.01, 240.02))
    line = line_through(influences, shown, tuple(true))
    scales = math.sqrt(influences.covariance(line.offset, line.offset) * influences.covariance(line.scale, line.scale))
    assert abs(influences.covariance(line.offset, line.scale)) < 1e-9 * scales


def test_one_master_takes_the_scale_as_it_is():
    one = only(PRESETTER, master=["low"], axis=["z"])
    found = got(one, z_scale_u_ppm=8.0, z_scale_dof=4.0)["results"]
    assert set(found) == {"z_offset_mm", "z_pivot_mm", "z_scale_ppm"}
    assert found["z_pivot_mm"]["value"] == pytest.approx(means("z")[0]["low"])
    assert (found["z_scale_ppm"]["value"], found["z_scale_ppm"]["u"]) == (0.0, pytest.approx(8.0))
    assert found["z_scale_ppm"]["k"] == pytest.approx(student_t(0.975, 4))
    assert got(one, z_scale_u_ppm=0.0)["results"]["z_scale_ppm"] == {"value": 0.0, "unit": "ppm"}
    with pytest.raises(NonnaError) as caught:
        got(one)
    assert (caught.value.code, caught.value.where) == ("missing-field", "setup.z_scale_u_ppm")


def test_a_radius_on_the_display_means_half_of_everything_in_x():
    radius = copy.deepcopy(PRESETTER)
    for reading in radius["readings"]:
        if reading["axis"] == "x":
            reading["value_mm"] /= 2
    shown, half = got(PRESETTER)["results"], got(radius, x_shows="radius")["results"]
    for name in ("x_offset_mm", "x_proof_error_mm", "x_pivot_mm"):
        assert half[name]["value"] == pytest.approx(shown[name]["value"] / 2, abs=1e-9)
    assert half["x_offset_mm"]["U"] == pytest.approx(shown["x_offset_mm"]["U"] / 2)
    assert half["x_scale_ppm"] == {k: pytest.approx(v) if k != "unit" else v for k, v in shown["x_scale_ppm"].items()}
    assert half["z_offset_mm"] == shown["z_offset_mm"]
    known = got(PRESETTER, repeatability_mm=0.001)["results"]["x_offset_mm"]
    halved = got(radius, x_shows="radius", repeatability_mm=0.001)["results"]["x_offset_mm"]
    assert halved["u"] == pytest.approx(known["u"] / 2)  # a repeatability is in real mm


def test_verdicts_of_the_calibration():
    assert got(PRESETTER)["verdict"] == "pass"
    plain = copy.deepcopy(PRESETTER)
    plain["setup"] = {}
    assert got(plain)["verdict"] == "pass"  # En alone decides
    assert got(only(PRESETTER, master=["low", "high"]), limit_scale_ppm=None)["verdict"] == "none"
    assert got(PRESETTER, limit_scale_ppm=1.0)["verdict"] == "fail"
    worse = copy.deepcopy(PRESETTER)
    for reading in worse["readings"]:
        reading["value_mm"] += 0.02 if reading["master"] == "proof" else 0.0
    found = got(worse)
    assert found["verdict"] == "fail" and found["results"]["z_proof_en"]["value"] > 1
    assert any("does not come out as certified" in text for text in found["advice"])


BAD = [
    (PRESETTER, {"masters": {"low": LOW, "high": HIGH}}, "missing-master", "masters.proof"),
    (PRESETTER, {"masters": {"high": HIGH}}, "missing-master", "masters.low"),
    (PRESETTER, {"masters": {"low": LOW, "high": {**LOW, "length_mm": 60.5}, "proof": PROOF}}, "degenerate-geometry",
        "readings"),
    (PRESETTER, {"masters": {"low": {**LOW, "diameter_mm": None}, "high": HIGH, "proof": PROOF}}, "missing-field",
        "masters.low.diameter_mm"),
    (PRESETTER, {"masters": {"low": {**LOW, "k": None}, "high": HIGH, "proof": PROOF}}, "missing-field",
        "masters.low.k"),
    (PRESETTER, {"readings": []}, "too-few-readings", "readings"),
    (PRESETTER, {"readings": [{"master": "proof", "axis": "z", "value_mm": 140 + d} for d in (0, 0.001)]},
        "too-few-readings", "readings"),
    (PRESETTER, {"readings": [{"master": "low", "axis": "y", "value_mm": 1.0}]}, "out-of-range", "readings[0].axis"),
    (ON_PRESETTER, {"setup": {"z_offset_mm": 0.1}}, "missing-field", "setup.z_offset_u_mm"),
    (ON_PRESETTER, {"setup": {**ON_PRESETTER["setup"], "x_pivot_mm": None}}, "missing-field", "setup.x_pivot_mm"),
    (ON_PRESETTER, {"setup": {**ON_PRESETTER["setup"], "limit_diameter_mm": 0.1}}, "missing-field",
        "setup.expected_diameter_mm"),
    (ON_PRESETTER, {"readings": [{"axis": "z", "value_mm": 112.0}]}, "no-repeatability", "readings"),
    (TRANSFER, {"readings": TRANSFER["readings"][:2]}, "too-few-readings", "readings"),
    (TRANSFER, {"setup": {"model": "line"}, "readings": TRANSFER["readings"][:3]}, "too-few-readings", "readings"),
    (TRANSFER, {"setup": {"model": "line"}, "readings": [{"tool": k, "presetter_mm": 100.0,
        "machine_mm": 100.0 + k} for k in range(4)]}, "degenerate-geometry", "readings"),
]  # fmt: skip


@pytest.mark.parametrize(("doc", "parts", "code", "where"), BAD)
def test_what_is_wrong_is_named_with_its_place(doc, parts, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate({**doc, **parts})
    assert (caught.value.code, caught.value.where) == (code, where)


def test_a_tool_by_hand():
    found = got(ON_PRESETTER)
    shown = [r["value_mm"] for r in ON_PRESETTER["readings"] if r["axis"] == "z"]
    r, s = float(np.mean(shown)), float(np.std(shown, ddof=1))
    row = found["results"]["length_mm"]
    assert row["value"] == pytest.approx(r - 0.012 - 40e-6 * (r - 150))
    assert row["u"] == pytest.approx(math.sqrt(s**2 / 3 + 0.0005**2 + ((r - 150) * 5e-6) ** 2))
    assert found["verdict"] == "pass" and set(found["results"]) == {"length_mm", "diameter_mm"}
    radius = got(ON_PRESETTER, x_shows="radius")["results"]["diameter_mm"]
    whole = found["results"]["diameter_mm"]
    assert radius["value"] == pytest.approx(2 * whole["value"]) and radius["u"] == pytest.approx(2 * whole["u"])
    few = got(ON_PRESETTER, z_offset_dof=3.0)["results"]["length_mm"]
    assert few["k"] > row["k"]
    assert set(got(only(ON_PRESETTER, axis=["x"]), limit_length_mm=None)["results"]) == {"diameter_mm"}


def test_a_transfer_by_hand():
    x = np.array([r["presetter_mm"] for r in TRANSFER["readings"]])
    d = np.array([r["machine_mm"] for r in TRANSFER["readings"]]) - x
    n, s = d.size, d.std(ddof=1)
    found = got(TRANSFER)["results"]
    assert found["transfer_mm"]["value"] == pytest.approx(d.mean())
    assert (found["transfer_mm"]["u"], found["transfer_mm"]["dof"]) == (pytest.approx(s / math.sqrt(n)), 5)
    assert found["spread_mm"] == {"value": pytest.approx(s), "unit": "mm"}
    t = student_t(0.975, 5)
    assert found["corrected_U_mm"] == {"value": pytest.approx(t * s * math.sqrt(1 + 1 / n)), "unit": "mm"}
    slope, _ = np.polyfit(x, d, 1)
    assert found["trend_ppm"]["value"] == pytest.approx(slope * 1e6) and found["trend_ppm"]["dof"] == 4
    line = got(TRANSFER, model="line")["results"]
    rest = d - np.polyval(np.polyfit(x, d, 1), x)
    s = math.sqrt(rest @ rest / 4)
    assert line["pivot_mm"]["value"] == pytest.approx(x.mean())
    far = (x - x.mean()) ** 2
    wanted = student_t(0.975, 4) * s * math.sqrt(1 + 1 / n + far.max() / far.sum())
    assert line["corrected_U_mm"]["value"] == pytest.approx(wanted)


def test_a_transfer_that_grows_with_the_length_says_so():
    grown = copy.deepcopy(TRANSFER)
    for reading in grown["readings"]:
        reading["machine_mm"] += 3e-4 * reading["presetter_mm"]
    found = got(grown)
    assert found["flags"] == ["trend-with-length"] and found["results"]["trend_p"]["value"] < 0.05
    assert got(grown, model="line")["flags"] == []
    assert got(TRANSFER, limit_mm=0.001)["verdict"] == "fail"
    assert got({**TRANSFER, "setup": {}})["verdict"] == "none"
    assert got({**TRANSFER, "readings": [{**r, "tool": f"T{r['tool']}"} for r in TRANSFER["readings"]]})


@given(st.floats(-5, 5), st.floats(-300, 300))
def test_a_shifted_zero_shifts_the_offset_alone(shift, ppm):
    moved = copy.deepcopy(PRESETTER)
    for reading in moved["readings"]:
        reading["value_mm"] += shift
    before, after = evaluate(PRESETTER), evaluate(moved)
    assert after.quantity("z_offset_mm").value == pytest.approx(before.quantity("z_offset_mm").value - shift, abs=1e-9)
    assert after.quantity("z_scale_ppm").value == pytest.approx(before.quantity("z_scale_ppm").value, abs=1e-6)
    assert after.quantity("z_proof_error_mm").value == pytest.approx(
        before.quantity("z_proof_error_mm").value, abs=1e-9
    )
    tool = evaluate({**ON_PRESETTER, "setup": {**ON_PRESETTER["setup"], "z_scale_ppm": ppm, "z_pivot_mm": 112.4202}})
    assert tool.quantity("length_mm").value == pytest.approx(112.4202 - 0.012, abs=2e-4)  # at the pivot no scale acts


@pytest.mark.parametrize("doc", [PRESETTER, ON_PRESETTER, TRANSFER], ids=lambda d: d["procedure"])
def test_a_sheet_can_be_drawn_from_its_first_reading_to_its_last(doc):
    found = procedure(doc["procedure"])
    facts = SheetFacts(setup=doc["setup"], masters=doc.get("masters", {}))
    assert found.steps(facts) and found.caution.words
    for count in range(0, len(doc["readings"]) + 1, 3):
        readings = doc["readings"][:count]
        result = evaluate(doc) if count == len(doc["readings"]) else None
        drawn = found.figure(facts, readings, result, Units.INCH)
        assert drawn.strokes and drawn.scale_note
    for slot in found.slots(facts):
        about = found.expected(facts, slot, doc["readings"])
        assert about is None or math.isfinite(about)
