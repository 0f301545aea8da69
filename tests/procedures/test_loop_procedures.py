"""The loop's procedures: worked by hand, against their documents' contract, and against hidden truths."""

import copy
import math

import numpy as np
import pytest

from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import Source, coverage_factor
from nonna.metrology.doubt.quantiles import student_t, variance_ratio
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.facts import SheetFacts
from nonna.procedures.session import Session
from nonna.procedures.telling import words_of
from nonna.wording.lengths import Units
from tests.support.examples import ARTEFACT, BEAM, CLOSURE, EXAMPLES, FACE, IN_RING, LENGTH, RUNOUT, ring_touches
from tests.support.simulators import SIMULATORS, history, truth_of


def found(doc, **setup):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    return evaluate(made).to_document()


def without(doc, *names):
    made = copy.deepcopy(doc)
    for name in names:
        made["setup"].pop(name, None)
    return made


def test_runout_by_hand():
    values = np.array([r["value_mm"] for r in RUNOUT["readings"]])
    t = np.radians([r["angle_deg"] for r in RUNOUT["readings"]])
    a, b = values @ np.cos(t) / 4, values @ np.sin(t) / 4
    rest = values - values.mean() - a * np.cos(t) - b * np.sin(t)
    s = math.sqrt(rest @ rest / 5)
    got = found(RUNOUT)
    r = got["results"]
    assert r["eccentricity_mm"]["value"] == pytest.approx(math.hypot(a, b))
    assert r["runout_mm"]["value"] == pytest.approx(2 * math.hypot(a, b))
    assert r["high_spot_deg"]["value"] == pytest.approx(math.degrees(math.atan2(b, a)))
    assert r["fim_mm"] == {"value": pytest.approx(np.ptp(values)), "unit": "mm"}
    assert r["form_mm"]["value"] == pytest.approx(np.ptp(rest))
    u, dof = max((student_t(0.975, 5) * s, s, 5), (1.96 * 0.001 / math.sqrt(12), 0.001 / math.sqrt(12), None))[1:]
    assert r["eccentricity_mm"]["u"] == pytest.approx(u / 2)  # eight even angles: the amplitude has u = s sqrt(2/8)
    assert r["high_spot_deg"]["u"] == pytest.approx(math.degrees(u / 2 / math.hypot(a, b)))
    assert r["runout_mm"]["dof"] == (None if dof is None else pytest.approx(dof))
    assert (got["verdict"], got["flags"]) == ("fail", [])
    assert "tighten, ease 180°" in got["advice"][1]
    assert sum(row["share"] for row in got["budget"]["runout_mm"]) == pytest.approx(1)


def test_a_lever_at_an_angle_reads_too_much():
    flat = found(RUNOUT, repeatability_mm=0.0005)["results"]
    tilted = found(
        RUNOUT, repeatability_mm=0.0005, indicator={"resolution_mm": 0.001, "lever_deg": 60, "mpe_mm": 0.002}
    )
    r = tilted["results"]
    assert r["fim_mm"]["value"] == pytest.approx(flat["fim_mm"]["value"] / 2)
    u2 = flat["eccentricity_mm"]["u"] ** 2 + (0.001 / (2 * math.sqrt(3))) ** 2  # history as it is, mpe times cosine
    assert r["eccentricity_mm"]["u"] == pytest.approx(math.sqrt(u2))
    assert r["high_spot_deg"]["u"] == pytest.approx(2 * flat["high_spot_deg"]["u"])
    sources = [
        Source("h", flat["eccentricity_mm"]["u"], math.inf),
        Source("m", 0.001 / (2 * math.sqrt(3)), math.inf, "rectangular"),
    ]
    assert r["runout_mm"]["k"] == pytest.approx(coverage_factor(sources))


def test_hardly_any_runout_has_no_direction():
    doc = without(RUNOUT, "indicator")
    for reading, noise in zip(doc["readings"], (1, -1, 2, -2, 1, 0, -1, 1), strict=True):
        reading["value_mm"] = noise * 1e-4
    got = found(doc)
    assert got["flags"] == ["eccentricity-near-zero"]
    assert got["results"]["eccentricity_mm"]["k"] == pytest.approx(math.sqrt(2 * variance_ratio(0.95, 2, 5)))
    for reading in doc["readings"]:
        reading["value_mm"] = 0.02
    flat = found(doc, resolution_mm=0.001)
    assert flat["results"]["runout_mm"]["value"] == pytest.approx(0, abs=1e-15)
    assert flat["results"]["runout_mm"]["U"] > 0


def test_face_level_by_hand():
    got = found(FACE, indicator={"mpe_mm": 0.001})
    r, turns = got["results"], got["turns"]
    sx = sum(x["x_mm"] * x["value_mm"] for x in FACE["readings"]) / 50
    assert r["slope_x"]["value"] == pytest.approx(sx)
    assert r["rise_x_mm"]["value"] == pytest.approx(14 * sx)
    assert turns == {"left": 0, "right": pytest.approx(-sx * 40 / 0.5)}
    plain = found(FACE)["results"]["rise_y_mm"]
    assert r["rise_y_mm"]["u"] == pytest.approx(math.hypot(plain["u"], 0.001 / math.sqrt(3)))
    assert got["verdict"] == "fail"
    assert "Screw right: lower it by a twelfth of a turn" in got["advice"][1]
    assert found(without(FACE, "screws"), limit_mm=0.1)["verdict"] == "pass"


def test_beam_level_by_hand_and_the_span_that_decides():
    got = found(BEAM)
    r = got["results"]
    s = 1e-4 * math.sqrt(3)
    assert r["z_deviation_mm"]["value"] == pytest.approx(0.01)
    assert r["z_per_100_mm"] == pytest.approx(
        {
            "value": 0.02,
            "unit": "mm",
            "u": 2 * s * math.sqrt(2 / 3),
            "dof": 4,
            "k": student_t(0.975, 4),
            "U": 2 * s * math.sqrt(2 / 3) * student_t(0.975, 4),
        }
    )
    assert r["cross_per_100_mm"]["u"] == pytest.approx(10 * r["z_per_100_mm"]["u"])  # a scatter of its own
    assert (got["verdict"], got["turns"]) == ("fail", pytest.approx(-0.01 / 50 * 80 / 0.5))
    undecided = found(BEAM, limit_z_mm_per_100=0.0201)
    words = next(w for w in undecided["advice"] if "span" in w)
    span = float(words.split("of ")[1].split(" mm")[0])
    longer = copy.deepcopy(BEAM)
    for reading in longer["readings"]:
        if reading["end"] == "B":
            reading["z_mm"] += 0.01 / 50 * (span - 50)
            reading["cross_mm"] += 0.1 / 50 * (span - 50)
    assert undecided["verdict"] == "undecided"
    assert found(longer, span_mm=span, limit_z_mm_per_100=0.0201)["verdict"] == "pass"


def test_ring_by_hand():
    got = found({**IN_RING, "readings": ring_touches(noise=0)}, limit_lobing_mm=0.0021)
    r = got["results"]
    warm = 25.0009 * (1 + 11.5e-6 * 1.4)
    assert r["offset_x_mm"]["value"] == pytest.approx(0.004)
    assert r["offset_y_mm"]["value"] == pytest.approx(-0.002)
    assert (r["ring_x_mm"]["value"], r["ring_y_mm"]["value"]) == (pytest.approx(100), pytest.approx(50))
    assert r["ball_radius_mm"]["value"] == pytest.approx(warm - 22)
    assert r["lobing_mm"]["value"] == pytest.approx(0.002)
    assert got["harmonics"]["3"]["amplitude_mm"] == pytest.approx(0.001)
    assert got["harmonics"]["2"]["amplitude_mm"] < 1e-9
    assert len(got["lobing_map"]) == 16
    assert "Three lobes" in got["advice"][-1]
    outside = copy.deepcopy(IN_RING)
    outside["masters"]["ring"]["diameter_mm"] = 38.0
    assert found(outside, side="external")["results"]["ball_radius_mm"]["value"] == pytest.approx(
        22 - 19 * (1 + 1.61e-5), abs=1e-4
    )


def test_ring_flags():
    one = {**IN_RING, "readings": ring_touches(turns=(0,))}
    assert found(one)["flags"] == ["no-reversal"]
    assert set(found(one)["results"]) == {"ball_radius_mm", "lobing_mm"}
    arc = {**IN_RING, "readings": [r for r in ring_touches(n=16) if r["y_mm"] > 54]}
    assert "short-arc" in found(arc)["flags"]
    half = {**IN_RING, "readings": ring_touches(turns=(0,), n=3)}
    assert found(half, repeatability_mm=0.001)["results"]["ball_radius_mm"]["dof"] is None
    shop_made = copy.deepcopy(IN_RING)
    shop_made["masters"]["ring"] |= {"traceable": False, "U_diameter_mm": 0.0}
    assert found(shop_made)["flags"] == ["not-traceable", "master-without-uncertainty"]


def test_artefact_and_closure_by_hand():
    got = found(ARTEFACT)
    r = got["results"]
    values = [x["value_mm"] for x in ARTEFACT["readings"]]
    s = np.std(values, ddof=1)
    u = math.sqrt(s**2 / 4 + 0.0004**2 + 0.0004**2)
    error = np.mean(values) - 32.0006
    assert r["error_mm"]["u"] == pytest.approx(u)
    u_m = math.hypot(s / 2, 0.0004)  # the measuring part, with the k of its own sources; the certificate's with 2
    k_m = coverage_factor([Source("touch", s / 2, 3), Source("loop", 0.0004, math.inf)])
    assert r["en"] == {"value": pytest.approx(error / math.hypot(k_m * u_m, 0.0008)), "unit": "1"}
    assert got["verdict"] == "pass"
    assert evaluate(without(ARTEFACT, "limit_mm")).verdict == "pass"  # E_n alone decides
    assert found(ARTEFACT, calibration_u_mm=0.0, limit_mm=0.1)["verdict"] == "pass"
    far = copy.deepcopy(ARTEFACT)
    far["masters"]["artefact"]["diameter_mm"] = 31.99
    assert found(far)["verdict"] == "fail"
    closed = found(CLOSURE)
    assert closed["results"]["difference_mm"]["value"] == pytest.approx(0.003)
    assert closed["results"]["difference_mm"]["dof"] == 4
    assert "more than the doubt" in closed["advice"][2]


def test_probe_length_corrected():
    got = found(LENGTH, correction_mm=0.002, correction_u_mm=0.0003, repeatability_mm=0.001)["results"][
        "probe_length_mm"
    ]
    mean = sum(r["position_mm"] for r in LENGTH["readings"]) / 4
    assert got["value"] == pytest.approx(mean + 452.4 + 0.002)
    assert got["u"] == pytest.approx(math.sqrt(0.001**2 / 4 + 0.0006**2 + 0.0003**2))


DROP = object()
BAD = [
    (RUNOUT, "readings", RUNOUT["readings"][:3], "too-few-readings", "readings"),
    (RUNOUT, "readings", [{"angle_deg": 90, "value_mm": v} for v in (0, 1e-3, 2e-3, 0)], "degenerate-geometry",
        "readings"),
    (RUNOUT, "setup", {"indicator": {"lever_deg": 90}}, "out-of-range", "setup.indicator.lever_deg"),
    (RUNOUT, "setup", {"screws_deg": ["left"]}, "not-a-number", "setup.screws_deg[0]"),
    (RUNOUT, "setup", {"indicator": {"mpe_mm": -1}}, "out-of-range", "setup.indicator.mpe_mm"),
    (RUNOUT, "setup", {"screw_deg": []}, "unknown-field", "setup.screw_deg"),
    (FACE, "readings", FACE["readings"][:3], "too-few-readings", "readings"),
    (FACE, "readings", [{"x_mm": i, "y_mm": 2 * i, "value_mm": i * i} for i in range(5)], "degenerate-geometry",
        "readings"),
    (FACE, "setup", {"pad_x_mm": 14}, "missing-field", "setup.pad_y_mm"),
    (FACE, "setup", {**FACE["setup"], "screws": [{"name": "a", "x_mm": 1, "y_mm": 1}]}, "missing-field",
        "setup.screws[0].pitch_mm"),
    (FACE, "setup", {**FACE["setup"], "screws": [{**s, "pivot": True} for s in FACE["setup"]["screws"]]},
        "out-of-range", "setup.screws"),
    (BEAM, "readings", BEAM["readings"][:3], "too-few-readings", "readings"),
    (BEAM, "readings", [BEAM["readings"][0], BEAM["readings"][3]], "no-repeatability", "readings"),
    (BEAM, "setup", {}, "missing-field", "setup.span_mm"),
    (BEAM, "readings", [{"end": "C", "z_mm": 0, "cross_mm": 0}], "out-of-range", "readings[0].end"),
    (IN_RING, "masters", {}, "missing-master", "masters.ring"),
    (IN_RING, "masters", {"ring": {"length_mm": 5}}, "missing-field", "masters.ring.diameter_mm"),
    (IN_RING, "setup", {}, "missing-field", "setup.side"),
    (IN_RING, "setup", {"side": "inside"}, "out-of-range", "setup.side"),
    (IN_RING, "readings", ring_touches()[:11], "too-few-readings", "readings"),
    (IN_RING, "readings", [{"spindle_deg": 90, "x_mm": 0, "y_mm": 0}], "out-of-range", "readings[0].spindle_deg"),
    (IN_RING, "readings", [{"spindle_deg": 0, "x_mm": i, "y_mm": i} for i in range(5)], "degenerate-geometry",
        "readings"),
    (ARTEFACT, "setup", {}, "missing-field", "setup.quantity"),
    (ARTEFACT, "setup", {"quantity": "length"}, "missing-field", "masters.artefact.length_mm"),
    (ARTEFACT, "readings", [], "too-few-readings", "readings"),
    (ARTEFACT, "readings", ARTEFACT["readings"][:1], "no-repeatability", "readings"),
    (CLOSURE, "readings", CLOSURE["readings"][:3], "too-few-readings", "readings"),
    (CLOSURE, "readings", [{"via": "eye", "height_mm": 0}], "out-of-range", "readings[0].via"),
    (LENGTH, "setup", {}, "missing-field", "setup.surface_mm"),
]  # fmt: skip


@pytest.mark.parametrize(("doc", "part", "value", "code", "where"), BAD)
def test_what_is_wrong_is_named_with_its_place(doc, part, value, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate({**doc, part: value})
    assert (caught.value.code, caught.value.where) == (code, where)


@pytest.mark.parametrize("doc", EXAMPLES.values(), ids=EXAMPLES)
def test_all_results_carry_what_the_contract_says(doc):
    got = evaluate(doc).to_document()
    assert got["format"] == "nonna-result/1"
    for name, row in got["results"].items():
        assert set(row) in ({"value", "unit"}, {"value", "unit", "u", "dof", "k", "U"})
        if "u" in row:
            assert row["U"] == pytest.approx(row["k"] * row["u"])
            assert sum(line["share"] for line in got["budget"][name]) == pytest.approx(1)
    still = {"feed_per_rev_mm": 0.0} if "feed_per_rev_mm" in doc["setup"] else {}
    scattered = found(doc, repeatability_mm=1e-9, **still)
    assert "scatter-above-history" in scattered["flags"]
    with_dof = found(doc, repeatability_mm=0.001, repeatability_dof=9, resolution_mm=0.05)
    assert "scatter-above-history" not in with_dof["flags"]  # the resolution lies in the history already
    for text in evaluate(doc).advice:
        assert words_of(text, Units.INCH)


@pytest.mark.parametrize("kind", SIMULATORS)
@pytest.mark.parametrize("use", [False, True], ids=["from the readings", "with history"])
def test_intervals_hold_the_truth(kind, use):
    rng = np.random.default_rng(5)
    inside, cases = 0, 0
    for i in range(400):
        doc, truth = SIMULATORS[kind](rng, 2 + i % 4, history(rng, use))
        result = evaluate(doc)
        for name, value in truth.items():
            e = result.quantity(name).estimate
            inside += abs(e.value - truth_of(value, result)) <= e.expanded
            cases += 1
    assert 0.92 <= inside / cases <= 0.985


def test_passes_teach_the_turn():
    session = Session("tip-runout", SheetFacts(setup=RUNOUT["setup"], variant="ball"))
    for reading in RUNOUT["readings"]:
        session = session.take(reading["value_mm"], "typed", "2026-11-23T10:00:00+00:00")
    first = session.evaluate()
    assert "of key" not in words_of(procedure("tip-runout").next_moves(session.facts, (), first)[0].words)
    session = session.next_pass({"0°": 30.0})
    assert session.live == () and len(session.rows) == 8 and session.rows[0].struck == "pass 1"
    for reading in RUNOUT["readings"]:
        less = 0.008 * math.cos(math.radians(reading["angle_deg"]))
        session = session.take(reading["value_mm"] - less, "typed", "2026-11-23T10:05:00+00:00")
    second = session.evaluate()
    moves = procedure("tip-runout").next_moves(session.facts, session.passes, second)
    (first_axis,) = [m for m in moves if m.screw == "0°"]
    assert f"about {first_axis.amount_mm / (0.008 / 30):.0f}° of key" in words_of(first_axis.words)
    assert procedure("tip-runout").outlook(session.passes, second) is not None
