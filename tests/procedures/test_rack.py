"""Rack pockets: the row by hand, bent clips set aside, and what is refused."""

import copy
import math

import numpy as np
import pytest

from nonna.errors import NonnaError
from nonna.metrology.doubt.quantiles import variance_ratio
from nonna.metrology.shapes.pocket_row import bent, fit_row
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.facts import SheetFacts
from tests.support.examples import RACK


def got(doc, **setup):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    return evaluate(made).to_document()


def row_of(count, rng, s=0.01, turn=0.3):
    i = np.arange(1.0, count + 1)
    return i, np.outer(i, [60 * math.cos(turn), 60 * math.sin(turn), 0.02]) + rng.normal(0, s, (count, 3))


def test_a_row_by_hand():
    found = got(RACK)
    rows = found["pockets"]
    i = np.array([p["pocket"] for p in rows])
    places = np.array([[p["x_mm"], p["y_mm"], p["z_mm"]] for p in rows])
    slopes = [np.polyfit(i, places[:, k], 1)[0] for k in range(3)]
    r = found["results"]
    assert r["pitch_mm"]["value"] == pytest.approx(math.hypot(slopes[0], slopes[1]))
    assert r["rise_mm"]["value"] == pytest.approx(slopes[2])
    assert r["direction_deg"]["value"] == pytest.approx(math.degrees(math.atan2(slopes[1], slopes[0])) % 360)
    x = [r["position_mm"] for r in RACK["readings"] if r["pocket"] == 3 and r["face"] in ("+x", "-x")]
    assert rows[2]["x_mm"] == pytest.approx(np.mean(x))
    along = np.array([p["along_mm"] for p in rows])
    s = math.sqrt(along @ along / 6)
    assert (r["pitch_mm"]["u"], r["pitch_mm"]["dof"]) == (pytest.approx(s / math.sqrt(42)), 6)
    heights = np.array([p["height_mm"] for p in rows])
    assert r["rise_mm"]["u"] == pytest.approx(math.sqrt(heights @ heights / 6 / 42))
    across = np.array([p["across_mm"] for p in rows])
    u = math.degrees(math.sqrt(across @ across / 6 / 42) / r["pitch_mm"]["value"])
    assert r["direction_deg"]["u"] == pytest.approx(u)
    assert r["off_line_mm"] == {"value": pytest.approx(np.hypot(along, across).max()), "unit": "mm"}
    assert r["height_mm"]["value"] == pytest.approx(abs(heights).max())
    assert r["diameter_mm"]["value"] == pytest.approx(np.mean([p["diameter_mm"] for p in rows]))
    assert found["verdict"] == "pass" and not any(p["set_aside"] for p in rows)


def bent_rack(pocket, x=0.0, y=0.0, z=0.0):
    made = copy.deepcopy(RACK)
    for reading in made["readings"]:
        if reading["pocket"] == pocket:
            reading["position_mm"] += {"x": x, "y": y, "p": z}[reading["face"][-1]]
    return made


def test_a_bent_clip_is_named_and_does_not_bend_the_row():
    sound, found = got(RACK), got(bent_rack(5, x=0.4, z=-0.3))
    assert [p["pocket"] for p in found["pockets"] if p["set_aside"]] == [5]
    assert found["verdict"] == "fail"  # its limits count all the same
    assert found["results"]["pitch_mm"]["value"] == pytest.approx(sound["results"]["pitch_mm"]["value"], abs=0.005)
    assert any("Pocket 5 stands" in text for text in found["advice"])
    five = next(p for p in found["pockets"] if p["pocket"] == 5)
    assert (five["along_mm"], five["height_mm"]) == (pytest.approx(0.4, abs=0.03), pytest.approx(-0.3, abs=0.03))


def test_across_is_positive_to_the_left_of_the_row():
    five = next(p for p in got(bent_rack(5, y=0.4))["pockets"] if p["pocket"] == 5)
    assert five["across_mm"] == pytest.approx(0.4, abs=0.03)  # the row runs along +X, left of it is +Y
    back = copy.deepcopy(bent_rack(5, y=0.4))
    for reading in back["readings"]:
        reading["pocket"] = 9 - reading["pocket"]
    four = next(p for p in got(back)["pockets"] if p["pocket"] == 4)
    assert four["across_mm"] == pytest.approx(-0.4, abs=0.03)
    assert got(back)["results"]["direction_deg"]["value"] == pytest.approx(180, abs=1)


def test_the_ratio_is_that_of_a_pocket_against_the_line_of_the_others():
    """The quick form through leverages gives what leaving each pocket out and fitting the rest gives."""
    rng = np.random.default_rng(4)
    i, places = row_of(7, rng)
    places[2] += [0.05, -0.04, 0.02]
    largest, which = 0.0, -1
    for k in range(7):
        others = np.arange(7) != k
        d2 = ssr = 0.0
        for axis in range(3):
            line = np.polyfit(i[others], places[others, axis], 1)
            ssr += float(((places[others, axis] - np.polyval(line, i[others])) ** 2).sum())
            d2 += float((places[k, axis] - np.polyval(line, i[k])) ** 2)
        far = i[others] - i[others].mean()
        h = 1 / 6 + (i[k] - i[others].mean()) ** 2 / (far @ far)
        ratio = d2 / 3 / (ssr / 12 * (1 + h))
        if ratio > largest:
            largest, which = ratio, k
    assert (which in bent(i, places)) == (largest > variance_ratio(1 - 0.01 / 7, 3, 12))


@pytest.mark.parametrize("count", [6, 8, 12, 20])
def test_two_bent_ones_do_not_hide_each_other(count):
    rng = np.random.default_rng(count)
    i, places = row_of(count, rng)
    places[1] += [0.3, 0.2, 0.0]
    places[count - 2] += [0.3, 0.2, 0.1]
    assert set(bent(i, places)) == {1, count - 2}


def test_sound_racks_are_left_alone():
    rng = np.random.default_rng(11)
    touched = sum(bool(bent(*row_of(int(rng.integers(6, 21)), rng))) for _ in range(600))
    assert touched <= 12
    assert bent(*row_of(4, rng)) == () and fit_row([1, 2, 3], row_of(3, rng)[1]).set_aside == ()


def test_a_known_repeatability_keeps_a_lucky_row_from_condemning_a_pocket():
    i, places = row_of(8, np.random.default_rng(3), s=1e-5)
    places[3] += [0.001, 0.0, 0.0]
    assert 3 in bent(i, places)
    assert bent(i, places, repeatability=0.002) == ()


def without_face(doc, pocket, face):
    return {**doc, "readings": [r for r in doc["readings"] if (r["pocket"], r["face"]) != (pocket, face)]}


BAD = [
    (without_face(RACK, 3, "top"), "too-few-readings", "readings"),
    ({**RACK, "readings": [r for r in RACK["readings"] if r["pocket"] < 3]}, "too-few-readings", "readings"),
    ({**RACK, "setup": {"holder_diameter_mm": 40.0}}, "missing-field", "setup.rod_diameter_mm"),
    (
        {**RACK, "setup": {"holder_diameter_mm": 0.0, "rod_diameter_mm": 10.0}},
        "out-of-range",
        "setup.holder_diameter_mm",
    ),
    ({**RACK, "readings": [{**r, "pocket": 2.5} for r in RACK["readings"]]}, "not-a-number", "readings[0].pocket"),
    (
        {
            **RACK,
            "readings": [
                {**r, "position_mm": 5.0 if r["face"] != "top" else r["position_mm"]} for r in RACK["readings"]
            ],
        },
        "degenerate-geometry",
        "readings",
    ),
]


@pytest.mark.parametrize(("doc", "code", "where"), BAD)
def test_what_is_wrong_is_named_with_its_place(doc, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate(doc)
    assert (caught.value.code, caught.value.where) == (code, where)


def test_limits_act_plainly_on_every_pocket():
    assert got(RACK, limit_diameter_mm=1.0)["verdict"] == "pass"
    assert got(RACK, limit_diameter_mm=1e-4)["verdict"] == "fail"
    assert got(RACK, limit_height_mm=1e-6)["verdict"] == "fail"
    plain = copy.deepcopy(RACK)
    del plain["setup"]["limit_off_line_mm"]
    assert got(plain)["verdict"] == "none"


def test_the_sheet_leads_down_the_row_and_draws_it():
    rack = procedure("rack-pockets")
    facts = SheetFacts(setup=RACK["setup"])
    slots = rack.slots(facts)
    assert len(slots) == 40 and "Pocket 5 of 8" in slots[20].prompt
    half = [r for r in RACK["readings"] if r["pocket"] <= 3]
    assert rack.expected(facts, slots[15], half) == pytest.approx(60 * 4 + 25, abs=0.05)
    assert "three make a row" in " ".join(
        s.words for s in rack.figure(facts, half, None).strokes if hasattr(s, "words")
    )
    whole = evaluate(bent_rack(5, x=0.4))
    assert any("bent" in s.words for s in rack.figure(facts, RACK["readings"], whole).strokes if hasattr(s, "words"))
