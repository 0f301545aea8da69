"""The lathe: each procedure by hand, diameter and radius display agreeing, doubt that covers, wear that helps."""

import copy
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.book.writing import Signature
from nonna.bench.shelf.shelving import put
from nonna.bench.station.state import read_state
from nonna.errors import NonnaError
from nonna.metrology.doubt.fits import oval_seen
from nonna.metrology.drifting.wear_process import next_wear
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.facts import SheetFacts
from nonna.procedures.session import Session
from nonna.shop.links.subjects import Subject
from nonna.stations.kind import kind_of
from tests.support.examples import ARM, CHUCK, CUT, FLANKS, IN_CHUCK, LATHE_RING, PART, TIP

SIGNED = Signature("K. Amsel")

ALL = (CUT, IN_CHUCK, ARM, TIP, LATHE_RING, PART, CHUCK)


def got(doc, readings=None, **setup):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    if readings is not None:
        made["readings"] = readings
    return evaluate(made).to_document()


def values(doc, field="position_mm", **where):
    return [r[field] for r in doc["readings"] if all(r[k] == v for k, v in where.items())]


def test_a_test_cut_by_hand():
    found = got(CUT)["results"]
    x, z = values(CUT, "value_mm", axis="x"), values(CUT, "value_mm", axis="z")
    s = CUT["setup"]
    assert found["offset_x_mm"]["value"] == pytest.approx(np.mean(x) - s["machine_x_mm"])
    assert found["offset_z_mm"]["value"] == pytest.approx(np.mean(z) - s["machine_z_mm"])
    mpe = s["indicator"]["mpe_mm"] / math.sqrt(3)
    assert found["offset_x_mm"]["u"] == pytest.approx(math.hypot(np.std(x, ddof=1) / math.sqrt(len(x)), mpe))
    half = got(CUT, x_shows="radius")["results"]["offset_x_mm"]
    assert half["value"] == pytest.approx(np.mean(x) / 2 - s["machine_x_mm"]) and half["u"] == pytest.approx(
        found["offset_x_mm"]["u"] / 2
    )
    known = got(CUT, repeatability_mm=0.002, indicator={})["results"]["offset_x_mm"]
    assert known["u"] == pytest.approx(
        0.002 / math.sqrt(len(x))
    )  # what was measured is real, whatever the machine shows


def test_an_arm_by_hand():
    found = got(ARM)["results"]
    means = {face: np.mean(values(ARM, face=face)) for face in ("+x", "-x", "+z", "-z")}
    s = ARM["setup"]
    assert found["plane_plus_x_mm"]["value"] == pytest.approx(means["+x"] + s["reference_x_mm"])
    assert found["plane_minus_z_mm"]["value"] == pytest.approx(means["-z"] + s["reference_z_mm"])
    assert found["width_x_mm"]["value"] == pytest.approx((means["+x"] - means["-x"]) / 2)  # real
    assert found["width_z_mm"]["value"] == pytest.approx(means["+z"] - means["-z"])
    own = [np.array(values(ARM, face=face)) for face in ("+x", "-x")]
    variance = sum(((v - v.mean()) ** 2).sum() for v in own) / (sum(len(v) for v in own) - 2)
    u = math.sqrt(variance * (1 / len(own[0]) + 1 / len(own[1]))) / 2
    assert found["width_x_mm"]["u"] == pytest.approx(u)  # free of the reference's doubt
    assert found["plane_plus_x_mm"]["u"] == pytest.approx(
        math.hypot(math.sqrt(variance / len(own[0])), s["reference_x_u_mm"])
    )
    ranges = [np.ptp(values(ARM, face=face)) * (0.5 if face[1] == "x" else 1) for face in means]
    assert found["range_mm"]["value"] == pytest.approx(max(ranges))
    assert "unequal-sides" in got(ARM, ARM["readings"][1:])["flags"]


def test_a_tip_by_hand():
    found = got(TIP)["results"]
    s, x = TIP["setup"], values(TIP, axis="x")
    u = np.std(x, ddof=1) / math.sqrt(len(x))
    assert found["offset_x_mm"]["value"] == pytest.approx(s["plane_x_mm"] - np.mean(x))
    assert found["offset_x_mm"]["u"] == pytest.approx(math.hypot(u, s["plane_x_u_mm"]))
    assert found["change_x_mm"]["value"] == pytest.approx(s["plane_x_mm"] - np.mean(x) - s["expected_x_mm"])
    assert found["change_x_mm"]["u"] == pytest.approx(math.hypot(u, s["expected_x_u_mm"]))  # the plane cancels
    other = got(TIP, same_plane=False)["results"]["change_x_mm"]
    assert other["u"] == pytest.approx(math.sqrt(u**2 + s["expected_x_u_mm"] ** 2 + s["plane_x_u_mm"] ** 2))
    assert got(TIP, limit_mm=0.001)["verdict"] == "fail"


def test_z_of_a_driven_tool_is_its_axis_half_way_between_its_flanks():
    found = got(FLANKS)
    s, z = (
        FLANKS["setup"],
        {
            face: np.array([r["position_mm"] for r in FLANKS["readings"] if r.get("face") == face])
            for face in ("+z", "-z")
        },
    )
    axis = (s["plane_z_mm"] + s["plane_minus_z_mm"]) / 2 - (z["+z"].mean() + z["-z"].mean()) / 2
    scatter = math.sqrt(sum(((v - v.mean()) ** 2).sum() for v in z.values()) / 4 / 6)  # pooled, on the mean of six
    offset, change = found["results"]["offset_z_mm"], found["results"]["change_z_mm"]
    assert offset["value"] == pytest.approx(axis)
    assert offset["u"] == pytest.approx(math.hypot(scatter, (s["plane_z_u_mm"] + s["plane_minus_z_u_mm"]) / 2))
    assert change["value"] == pytest.approx(axis - s["expected_z_mm"])
    assert change["u"] == pytest.approx(math.hypot(scatter, s["expected_z_u_mm"]))  # the planes cancel
    across = z["+z"].mean() - z["-z"].mean() - (s["plane_z_mm"] - s["plane_minus_z_mm"])
    assert any(f"across them it is {across:.4f} mm" in words for words in found["advice"])
    assert got(FLANKS, x_shows="radius")["results"]["offset_z_mm"]["value"] == offset["value"]


@pytest.mark.parametrize(
    ("rows", "code", "where"),
    [
        ([{"axis": "z", "face": "+z", "position_mm": -8.5}] * 2, "too-few-readings", "readings"),
        ([{"axis": "z", "face": "+z", "position_mm": -8.5}, {"axis": "z", "position_mm": -26.6}], "missing-field",
            "readings[1].face"),
        ([{"axis": "z", "position_mm": -8.5}] * 2, "missing-field", "readings[0].face"),
        ([{"axis": "x", "face": "-z", "position_mm": 132.5}], "unknown-field", "readings[0].face"),
    ],
)  # fmt: skip
def test_half_a_pair_of_flanks_is_refused_with_its_place(rows, code, where):
    with pytest.raises(NonnaError) as refused:
        got(FLANKS, rows, resolution_mm=0.001)
    assert (refused.value.code, refused.value.where) == (code, where)


def test_a_drill_takes_x_from_the_centre_line():
    z = [r for r in TIP["readings"] if r["axis"] == "z"]
    drill = {"centre_line_x_mm": 3.0, "expected_x_mm": 3.05, "limit_mm": 0.1}
    found = got(TIP, z, **drill, expected_x_u_mm=0.0)["results"]
    assert found["offset_x_mm"] == {"value": 3.0, "unit": "mm"} and found["change_x_mm"] == {
        "value": pytest.approx(-0.05),
        "unit": "mm",
    }
    found = got(TIP, z, **drill, centre_line_x_u_mm=0.004, expected_x_u_mm=0.003)["results"]
    assert (found["offset_x_mm"]["u"], found["change_x_mm"]["u"]) == (0.004, 0.003)
    found = got(TIP, z, **drill, centre_line_x_u_mm=0.004, expected_x_u_mm=0.003, same_plane=False)["results"]
    assert found["change_x_mm"]["u"] == pytest.approx(0.005)
    assert "offset_x_mm" not in got(TIP, z, limit_mm=None, expected_x_mm=None)["results"]


def test_a_ring_by_hand():
    found = got(LATHE_RING)["results"]
    plus, minus = values(LATHE_RING, at="+"), values(LATHE_RING, at="-")
    size = LATHE_RING["masters"]["ring"]["diameter_mm"]
    wide = (np.mean(plus) - np.mean(minus)) / 2
    assert found["ball_diameter_mm"]["value"] == pytest.approx(size - wide)
    assert found["centre_mm"]["value"] == pytest.approx((np.mean(plus) + np.mean(minus)) / 2)
    assert got(LATHE_RING, side="external")["results"]["ball_diameter_mm"]["value"] == pytest.approx(wide - size)
    y = got(LATHE_RING, axis="y", side="external")["results"]["ball_diameter_mm"]["value"]
    assert y == pytest.approx(2 * wide - size)  # Y is shown as it is
    one = [r for r in LATHE_RING["readings"] if r["at"] == "-"]
    single = got(LATHE_RING, one, centre_mm=0.02, centre_u_mm=0.001)["results"]
    assert (
        single["ball_diameter_mm"]["value"] == pytest.approx(size - abs(np.mean(minus) - 0.02))
        and "centre_mm" not in single
    )
    u = math.hypot(np.std(minus, ddof=1) / math.sqrt(len(minus)), 0.001)
    ring = LATHE_RING["masters"]["ring"]
    assert single["ball_diameter_mm"]["u"] == pytest.approx(math.hypot(u, ring["U_diameter_mm"] / ring["k"]))


@pytest.mark.parametrize(
    ("feature", "side", "sign"),
    [
        ("diameter", "internal", 1),
        ("diameter", "external", -1),
        ("groove", None, 1),
        ("rib", None, -1),
        ("distance", None, 0),
    ],
)
def test_a_part_by_hand(feature, side, sign):
    found = got(PART, feature=feature, side=side, wear_mm=None)["results"]
    factor = 0.5 if feature == "diameter" else 1.0
    wide = factor * (np.mean(values(PART, at="+")) - np.mean(values(PART, at="-")))
    size = wide + sign * PART["setup"]["ball_diameter_mm"]
    assert found["size_mm"]["value"] == pytest.approx(size)
    assert found["error_mm"]["value"] == pytest.approx(size - PART["setup"]["nominal_mm"])
    assert found["error_mm"]["u"] == found["size_mm"]["u"]


def test_a_tolerance_is_guarded_on_each_side():
    error = got(PART, wear_mm=None)["results"]["error_mm"]
    wide, k1 = error["value"], error["U"]
    for low, high, verdict in (
        (wide - 3 * k1, wide + 3 * k1, "pass"), (wide - 3 * k1, wide - 2 * k1, "fail"),
        (wide + 2 * k1, wide + 3 * k1, "fail"),
        (wide - 3 * k1, wide + 0.1 * k1, "undecided"), (wide - 0.1 * k1, wide + 3 * k1, "undecided"),
    ):  # fmt: skip
        assert got(PART, wear_mm=None, lower_mm=low, upper_mm=high)["verdict"] == verdict
    assert got(PART, wear_mm=None, lower_mm=None, upper_mm=None)["verdict"] == "none"


def test_wear_is_corrected_left_or_stopped():
    whole = got(PART, wear_mm=0.1, gain=0.7, stop_mm=0.5)
    error = whole["results"]["error_mm"]["value"]
    assert whole["state"] == "correct" and whole["results"]["new_wear_mm"]["value"] == pytest.approx(0.1 - 0.7 * error)
    radius = got(
        PART, wear_mm=0.1, x_shows="radius", nominal_mm=PART["setup"]["nominal_mm"], stop_mm=1e3, step_limit_mm=1e3
    )
    assert radius["state"] == "correct"
    limited = got(PART, wear_mm=0.1, step_limit_mm=0.002)
    assert "step-limited" in limited["flags"] and abs(
        limited["results"]["new_wear_mm"]["value"] - 0.1
    ) == pytest.approx(0.002)
    stopped = got(PART, wear_mm=0.1, stop_mm=abs(error) / 2)
    assert (stopped["state"], stopped["results"]["new_wear_mm"]["value"]) == ("stop", 0.1)
    left = got(PART, wear_mm=0.1, ball_diameter_u_mm=1.0)
    assert (left["state"], left["results"]["new_wear_mm"]["value"]) == ("leave", 0.1)


@given(
    error=st.floats(-0.2, 0.2), inside=st.booleans(), radius=st.booleans(), gain=st.floats(0.05, 1.0),
    expanded=st.floats(1e-5, 0.05),
    limit=st.floats(1e-4, 1.0),
)  # fmt: skip
def test_the_next_part_is_nearer_and_never_overshoots(error, inside, radius, gain, expanded, limit):
    """The part is cut where the axis is sent: wear as shown moves X by itself, and the size by twice that on radius."""
    factor = 1.0 if radius else 0.5
    found = next_wear(0.0, error, expanded, factor, gain=gain, step_limit=limit)
    moved = 2.0 * factor * found.wear  # real diameter, inside and outside alike: a larger X is a larger diameter
    after = error + moved
    del inside
    if abs(error) <= expanded:
        assert found.state == "leave" and moved == 0.0
    else:
        assert abs(after) < abs(error) and after * error >= -1e-15
        assert abs(found.wear) <= limit * (1 + 1e-12)
    assert (
        next_wear(0.3, error, expanded, factor, gain=gain, stop=abs(error) / 2 if error else 1.0).wear == 0.3
        or error == 0.0
    )


def test_chuck_runout_by_hand():
    found = got(CHUCK)["results"]
    angles = np.radians([r["angle_deg"] for r in CHUCK["readings"]])
    y = np.array([r["position_mm"] for r in CHUCK["readings"]]) / 2
    design = np.column_stack([np.ones(len(y)), np.cos(angles), np.sin(angles)])
    _, a, b = np.linalg.lstsq(design, y, rcond=None)[0]
    assert found["eccentricity_mm"]["value"] == pytest.approx(math.hypot(a, b))
    assert found["runout_mm"]["value"] == pytest.approx(2 * math.hypot(a, b))
    assert found["fim_mm"]["value"] == pytest.approx(np.ptp(y))
    three = [{"angle_deg": a, "position_mm": 40 + 0.04 * math.cos(math.radians(a))} for a in (0, 120, 240)]
    with pytest.raises(NonnaError) as caught:
        got(CHUCK, three)
    assert caught.value.code == "no-repeatability"
    known = got(CHUCK, three, repeatability_mm=0.001)["results"]
    assert known["eccentricity_mm"]["value"] == pytest.approx(0.02) and known["form_mm"]["value"] == pytest.approx(
        0.0, abs=1e-12
    )
    assert known["eccentricity_mm"]["u"] == pytest.approx(0.001 * math.sqrt(2 / 3))  # in real mm


@given(
    st.sampled_from(["lathe-arm", "lathe-ring", "lathe-measure", "lathe-tip", "chuck-runout", "lathe-offset-master"]),
    st.integers(0, 2**32 - 1),
    st.booleans(),
)
def test_diameter_and_radius_display_agree_on_one_physical_case(name, seed, known):
    """Positions on diameter are twice those on radius; widths, sizes, balls and the doubt of them are the same."""
    dice = np.random.default_rng(seed)
    base = copy.deepcopy({d["procedure"]: d for d in ALL}[name])
    on_diameter, on_radius = copy.deepcopy(base), copy.deepcopy(base)
    history = {"repeatability_mm": 0.0007} if known else {}
    for made, factor in ((on_diameter, 2.0), (on_radius, 1.0)):
        made["setup"].update(x_shows="diameter" if factor == 2.0 else "radius", **history)
        made["setup"].pop("resolution_mm", None)
        for field in list(made["setup"]):
            if field.startswith(
                ("reference_x_", "plane_x_", "expected_x_", "centre_line_x_", "centre_", "wear_")
            ) and not field.endswith("dof"):
                made["setup"][field] = made["setup"][field] * factor
        if name == "lathe-tip":
            made["setup"].pop("limit_mm", None)
    for i in range(len(base["readings"])):
        noise = float(dice.normal(0.0, 0.0007))
        row = base["readings"][i]
        on_x = row.get("axis", row.get("face", "+x")[-1] if "face" in row else "x") == "x"
        for made, factor in ((on_diameter, 2.0), (on_radius, 1.0)):
            made["readings"][i]["position_mm"] = (
                (row["position_mm"] / 2 + noise) * factor if on_x else row["position_mm"] + noise
            )
    first, second = evaluate(on_diameter).to_document(), evaluate(on_radius).to_document()
    for result, row in first["results"].items():
        shown = (
            2.0
            if ("_x_mm" in result and not result.startswith("width")) or result in ("centre_mm", "new_wear_mm")
            else 1.0
        )
        other = second["results"][result]
        assert row["value"] == pytest.approx(other["value"] * shown, abs=1e-9), result
        if "u" in row:
            assert row["u"] == pytest.approx(other["u"] * shown, rel=1e-6), result
            assert row["dof"] == (pytest.approx(other["dof"]) if other["dof"] else None)
    assert first["verdict"] == second["verdict"] and first["flags"] == second["flags"]


@pytest.mark.parametrize(("n", "known"), [(3, False), (4, True)])
def test_the_doubt_of_the_whole_chain_covers(n, known):
    """Reference -> arm -> tip: the offset against the truth, all positions on diameter."""
    dice, hits, trials, s = np.random.default_rng(17 + n), 0, 700, 0.001
    history = {"repeatability_mm": s, "repeatability_dof": 24.0} if known else {}
    for _ in range(trials):
        true_reference, true_tip, plane = -80.0, -62.5, 70.0  # as shown
        size = [40.0 + d for d in dice.normal(0.0, 0.0015, n)]
        machine = 40.0 - true_reference
        mpe = float(dice.uniform(-0.002, 0.002))
        cut = got(CUT, [{"axis": "x", "value_mm": v + mpe} for v in size], machine_x_mm=machine,
            indicator={"mpe_mm": 0.002},
                  repeatability_mm=0.0015 if known else None)["results"]["offset_x_mm"]  # fmt: skip
        rows = [{"face": "+x", "position_mm": plane - true_reference + d} for d in dice.normal(0.0, 2 * s, n)]
        carried = {"reference_x_mm": cut["value"], "reference_x_u_mm": cut["u"], "reference_x_dof": _carried(cut["k"])}
        arm = got(ARM, rows, **carried, **history)["results"]["plane_plus_x_mm"]
        rows = [{"axis": "x", "position_mm": plane - true_tip + d} for d in dice.normal(0.0, 2 * s, n)]
        setup = {
            "plane_x_mm": arm["value"],
            "plane_x_u_mm": arm["u"],
            "plane_x_dof": _carried(arm["k"]),
            "expected_x_mm": None,
            "limit_mm": None,
        }
        tip = got(TIP, rows, **setup, **history)["results"]["offset_x_mm"]
        hits += abs(tip["value"] - true_tip) <= tip["U"]
    assert 0.925 <= hits / trials <= 0.985  # a rectangle's ends make it a little wide


def _carried(k):
    from nonna.metrology.doubt.coverage import carried_dof

    dof = carried_dof(k)
    return None if math.isinf(dof) else dof


BAD = [
    (LATHE_RING, {"depth_mm": 22.0, "reach_mm": 22.0}, "out-of-range", "setup.depth_mm"),
    (PART, {"depth_mm": 40.0, "reach_mm": 22.0}, "out-of-range", "setup.depth_mm"),
    (IN_CHUCK, {"face_mm": None}, "missing-field", "setup.face_mm"),
    (CUT, {"machine_x_mm": None}, "missing-field", "setup.machine_x_mm"),
    (ARM, {"reference_z_mm": None}, "missing-field", "setup.reference_z_mm"),
    (TIP, {"plane_x_mm": None}, "missing-field", "setup.plane_x_mm"),
    (TIP, {"expected_z_mm": None}, "missing-field", "setup.expected_z_mm"),
    (LATHE_RING, {"side": None}, "missing-field", "setup.side"),
    (PART, {"nominal_mm": None}, "missing-field", "setup.nominal_mm"),
    (PART, {"side": None}, "missing-field", "setup.side"),
    (PART, {"lower_mm": None}, "missing-field", "setup.lower_mm"),
    (PART, {"lower_mm": 0.5, "upper_mm": 0.1}, "out-of-range", "setup.lower_mm"),
    (PART, {"ball_diameter_mm": None}, "missing-field", "setup.ball_diameter_mm"),
    (PART, {"feature": "rib"}, "out-of-range", "setup.wear_mm"),
    (PART, {"feature": "hole"}, "out-of-range", "setup.feature"),
    (CHUCK, {"x_shows": "both"}, "out-of-range", "setup.x_shows"),
]


@pytest.mark.parametrize(("doc", "setup", "code", "where"), BAD)
def test_what_is_wrong_is_named_with_its_place(doc, setup, code, where):
    made = copy.deepcopy(doc)
    made["setup"].update(setup)
    made["setup"] = {k: v for k, v in made["setup"].items() if v is not None}
    with pytest.raises(NonnaError) as caught:
        evaluate(made)
    assert (caught.value.code, caught.value.where) == (code, where)


def test_one_side_alone_needs_a_centre_or_is_too_few():
    one = [r for r in PART["readings"] if r["at"] == "+"]
    for doc, readings, setup, code in (
        (PART, one, {}, "missing-field"), (PART, one, {"feature": "groove", "wear_mm": None}, "too-few-readings"),
        (LATHE_RING, [r for r in LATHE_RING["readings"] if r["at"] == "+"], {}, "missing-field"),
        (PART, [], {}, "too-few-readings"),
    ):  # fmt: skip
        with pytest.raises(NonnaError) as caught:
            got(doc, readings, **setup)
        assert caught.value.code == code


@pytest.mark.parametrize("doc", ALL, ids=[d["procedure"] for d in ALL])
def test_every_sheet_has_drawings_steps_and_a_caution(doc):
    found = procedure(doc["procedure"])
    for variant in (*(v.key for v in found.variants), ""):
        facts = SheetFacts(setup=doc["setup"], masters=doc.get("masters", {}), variant=variant)
        assert found.slots(facts) and found.steps(facts) and found.caution.words
        assert found.figure(facts, [], None).strokes and found.figure(facts, doc["readings"], evaluate(doc)).scale_note


def test_the_loop_of_a_lathe_hangs_together(shop):
    loop = kind_of("lathe").loop
    assert loop.upstream("tips") == ("arm", "reference", "seating") and loop.each.procedure == "lathe-tip"
    assert {loop.link_of(d["procedure"]) for d in ALL} == {"reference", "arm", "tips", "ring", "parts", "chuck"}
    assert all(name in {link.key for link in loop.links} for event in loop.events for name in event.breaks)
    for text in ("Arm", "Chuck", "Reference tool"):
        assert str(Subject.of(text)) == text
    put(shop, "machines", {"name": "Willow", "kind": "lathe", "has_setter": False}, SIGNED)
    state = read_state(shop, station="willow")
    assert state.machine_kind == "lathe" and [s.link.key for s in state.links][:5] == [
        "reference",
        "seating",
        "arm",
        "centre",
        "tips",
    ]


def test_a_reference_tool_on_a_master_by_hand():
    found = got(IN_CHUCK)
    rows, s, master = found["results"], IN_CHUCK["setup"], IN_CHUCK["masters"]["master"]
    sides = [np.mean(values(IN_CHUCK, axis="x", chuck_deg=turn)) for turn in (0, 180)]
    assert rows["offset_x_mm"]["value"] == pytest.approx(master["diameter_mm"] + 2 * s["feeler_mm"] - np.mean(sides))
    touch = 2 * s["repeatability_mm"] / math.sqrt(4)  # a reading on diameter scatters twice as much
    assert rows["offset_x_mm"]["u"] == pytest.approx(
        math.hypot(touch, master["U_diameter_mm"] / 2, 2 * s["feeler_u_mm"])
    )
    z = np.mean(values(IN_CHUCK, axis="z"))
    assert rows["offset_z_mm"]["value"] == pytest.approx(s["face_mm"] + s["feeler_mm"] - z)
    assert rows["offset_z_mm"]["u"] == pytest.approx(
        math.hypot(s["repeatability_mm"] / 2, s["face_u_mm"], s["feeler_u_mm"])
    )
    assert found["flags"] == [] and any(
        "6.0 µm off the axis" in words for words in found["advice"]
    )  # 24 between the sides on diameter are 6 real
    once = got(IN_CHUCK, [r for r in IN_CHUCK["readings"] if r["chuck_deg"] == 0])
    assert once["flags"] == ["one-side"] and any("half a turn" in words for words in once["advice"])
    warm = copy.deepcopy(IN_CHUCK) | {"conditions": {"temperature_c": 30.0}}
    grown = evaluate(warm).to_document()["results"]["offset_x_mm"]["value"] - rows["offset_x_mm"]["value"]
    assert grown == pytest.approx(16.0006 * 1.15e-5 * 10.0)


@pytest.mark.parametrize("known", [False, True])
def test_a_reference_tool_on_a_master_covers(known):
    dice, hits, trials = np.random.default_rng(71), 0, 1200
    for _ in range(trials):
        true, off = 81.2, float(dice.normal(0.0, 0.01))
        size = 16.0006 + float(dice.normal(0.0, 0.0005))
        foil = 0.05 + float(dice.normal(0.0, 0.0005))
        rows = [
            {
                "axis": "x",
                "chuck_deg": turn,
                "position_mm": 2 * (size / 2 + foil + side * off - true + float(dice.normal(0.0, 0.001))),
            }
            for turn, side in ((0, 1), (180, -1))
            for _ in range(2)
        ]
        more = {"repeatability_mm": 0.001 if known else None, "repeatability_dof": 24.0 if known else None}
        found = got(IN_CHUCK, rows, **more)["results"]["offset_x_mm"]
        hits += abs(found["value"] - 2 * true) <= found["U"]
    assert 0.93 <= hits / trials <= 0.97


def test_a_test_cut_covers_with_the_readings_its_sheet_asks():
    """What a micrometer of 1 um hides, and its own error, each three times measured; the cut itself is as shown."""
    wanted = procedure("lathe-offset-cut").slots(SheetFacts())
    (touches,) = {sum(slot.fields["axis"] == axis for slot in wanted) for axis in "xz"}
    dice, hits, trials = np.random.default_rng(72), 0, 1500
    for _ in range(trials):
        off = float(dice.uniform(-0.002, 0.002))
        rows = [
            {"axis": "x", "value_mm": round(44.0 + off + float(dice.normal(0.0, 0.0007)), 3)} for _ in range(touches)
        ]
        setup = {"machine_x_mm": 120.0, "indicator": {"resolution_mm": 0.001, "mpe_mm": 0.002}}
        found = got(CUT | {"setup": setup}, rows)["results"]["offset_x_mm"]
        hits += abs(found["value"] + 76.0) <= found["U"]
    assert 0.94 <= hits / trials <= 0.96


def test_an_oval_that_three_angles_cannot_see_is_in_the_doubt():
    """A part true to its first side, out of round by 5 µm: what three angles take for run-out stays within U."""
    dice, held, bare = np.random.default_rng(31), 0, 0
    for _ in range(400):
        phase, e, high = dice.uniform(0, 2 * np.pi), dice.uniform(0, 0.02), dice.uniform(0, 2 * np.pi)
        turn = np.radians([0.0, 120.0, 240.0])
        seen = e * np.cos(turn - high) + 0.0025 * np.cos(2 * turn - phase) + dice.normal(0, 0.0005, 3)
        rows = [
            {"angle_deg": float(np.degrees(t)), "position_mm": float(2 * x)} for t, x in zip(turn, seen, strict=True)
        ]
        for name in ("second-side", "chuck-runout"):
            found = evaluate(
                {
                    "format": "nonna-readings/1", "procedure": name, "readings": rows,
                    "setup": {"x_shows": "diameter", "repeatability_mm": 0.0005, "repeatability_dof": 60},
                }
            ).quantity("runout_mm").estimate  # fmt: skip
            hit = abs(found.value - 2 * e) <= found.expanded
            held, bare = (held + hit, bare) if name == "second-side" else (held, bare + hit)
    assert held >= 0.94 * 400 and bare < 0.8 * 400
    assert [oval_seen(np.radians(np.arange(n) * 360.0 / n)) for n in (3, 4, 5, 6)] == pytest.approx(
        [math.sqrt(0.5), 0.0, 0.0, 0.0]
    )
    said = {**rows_of_chuck(4), "setup": {"x_shows": "diameter", "repeatability_mm": 0.0005, "form_mm": 0.05}}
    plain = {**rows_of_chuck(4), "setup": {"x_shows": "diameter", "repeatability_mm": 0.0005}}
    assert evaluate(said).quantity("runout_mm").estimate.u == evaluate(plain).quantity("runout_mm").estimate.u


def rows_of_chuck(count):
    rows = [{"angle_deg": i * 360.0 / count, "position_mm": 36.0 + 0.01 * i} for i in range(count)]
    return {"format": "nonna-readings/1", "procedure": "chuck-runout", "readings": rows}


@pytest.mark.parametrize("shows", ["diameter", "radius"])
def test_a_master_touched_at_one_angle_has_its_run_out_in_the_doubt(shows):
    """Clamped as a chuck clamps, up to 20 µm full swing: one angle alone covers what two would have cancelled."""
    dice, held, factor = np.random.default_rng(7), 0, 0.5 if shows == "diameter" else 1.0
    for _ in range(300):
        e, at = dice.uniform(0.0, 0.01), dice.uniform(0, 2 * np.pi)
        rows = [
            {"axis": "x", "chuck_deg": 0, "position_mm": (10.0 + e * math.cos(at) + dice.normal(0, 0.0005)) / factor}
            for _ in range(2)
        ]
        document = {
            "format": "nonna-readings/1", "procedure": "lathe-offset-master", "readings": rows,
            "setup": {"x_shows": shows, "repeatability_mm": 0.0005},
            "masters": {"master": {"diameter_mm": 20.0, "U_diameter_mm": 0.0008, "k": 2}},
        }  # fmt: skip
        found = evaluate(document).quantity("offset_x_mm").estimate
        held += abs(found.value) <= found.expanded
    assert held >= 0.94 * 300
    document["setup"]["runout_mm"] = 0.002
    assert evaluate(document).quantity("offset_x_mm").estimate.expanded < 0.4 * found.expanded


def test_parts_that_a_file_brought_stay_where_the_book_has_none():
    earlier = [{"error_mm": 0.004, "u_mm": 0.001, "wear_mm": 0.0}]
    session = Session("lathe-measure", SheetFacts(setup={**PART["setup"], "earlier": earlier}))
    assert session.with_setup(tool="T3").facts.setup["earlier"] == earlier
