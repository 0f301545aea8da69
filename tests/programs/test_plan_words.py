"""What a plan says and leaves out: windows, sides, ways; nothing is clipped or dropped without a word."""

import pytest

from nonna.errors import NonnaError
from nonna.shop.cards.job import JobTool
from nonna.stations.mill.planning.plan import plan_job
from tests.support.plans import MACHINE, drill, machine_with, planned


def one(machine=MACHINE, **more):
    return planned([drill(**more)], machine)[0].tools[0]


def said(plan):
    return " ".join(plan.reasons)


def test_windows_are_reported_when_wide_clipped_or_tight():
    assert "only known within 40 mm" in said(one(length_uncertainty_mm=20.0))
    assert "only known" not in said(one())
    low = machine_with({"trigger_plane_mm": -452.4})
    low = low.model_copy(update={"travel_mm": low.travel_mm.model_copy(update={"z": [-341.0, 0.0]})})
    clipped = one(low)
    assert "before the search should" in said(clipped) and clipped.search_to_z == -341.0 and not clipped.refused
    assert "too short" in one(low, length_mm=100.0).refused
    tight = one(machine_with(obstacles=[]), length_mm=449.0)
    assert "mm of air above it" in said(tight) and tight.approach_z == 0.0 and not tight.refused
    assert "too long" in one(length_mm=452.5).refused


def test_a_quick_check_says_what_it_saves():
    more = {"measure": ["breakage"], "reference_mm": 112.418, "tolerance_short_mm": 0.3, "tolerance_long_mm": 0.3}
    assert "A check is one touch" not in said(one(**more))  # standing still three touches take no longer
    check = one(kind="face-mill", diameter_mm=63, centre_cutting=False, **more)
    words = next(r for r in check.reasons if r.startswith("A check is one touch"))
    quick, slow = (int(w) for w in words.replace("s.", "s").split() if w.isdigit())
    assert 0 < quick < slow


@pytest.mark.parametrize(
    ("tool", "setter", "obstacles", "axes", "words"),
    [
        ({}, {}, [], ["x", "x"], "from both sides"),
        ({}, {"clear_sides": ["+y", "-y"]}, [], ["y", "y"], "from both sides"),
        ({}, {"clear_sides": ["-y"]}, [], ["y"], "from the -y side alone"),
        ({}, {"clear_sides": []}, [], [], "no side of the setter is free"),
        ({}, {}, [[[730, 0, -560], [790, 120, -400]]], ["y", "y"], "from both sides"),
        ({"kind": "slitting-saw", "diameter_mm": 60}, {}, [], [], "too thin"),
        ({"kind": "boring-bar", "diameter_mm": 30}, {}, [], [], "no diameter"),
        ({"kind": "dovetail"}, {}, [], [], "leans"),
        ({"length_mm": None}, {}, [], [], "measure its length first"),
        ({"corner_radius_mm": 70.0, "kind": "bull-mill", "diameter_mm": 145}, {}, [], [], "cannot be reached"),
    ],
)
def test_diameters_are_touched_where_there_is_room_or_left_out_in_words(tool, setter, obstacles, axes, words):
    machine = machine_with(setter, obstacles=[{"name": "vice", "box_mm": box} for box in obstacles])
    plan = planned([drill(**{"measure": ["length", "diameter"], "kind": "drill", **tool})], machine)[0].tools[0]
    sides = [t.axis for t in plan.touches if t.axis != "z"]
    assert sides == axes
    assert words in said(plan) or words in plan.refused
    if sides:
        assert all(t.turning in ("M3", "M4") for t in plan.touches if t.axis != "z")


def test_a_diameter_alone_that_cannot_be_had_refuses_the_tool():
    plan = planned([drill(measure=["diameter"], kind="slitting-saw", diameter_mm=60.0)])[0].tools[0]
    assert "left out" in plan.refused and plan.touches == () and plan.seconds == 0.0


def test_what_stands_on_the_way_refuses_the_tool_in_words():
    tall = [{"name": "tombstone", "box_mm": [[540, 100, -560], [580, 250, -60]]}]
    machine = machine_with(obstacles=tall)
    assert "tombstone is in the way at the safe height" in one(machine).refused
    assert one(machine, length_mm=50.0, length_uncertainty_mm=0.0).refused == ""  # short enough to go over it


def test_progress_is_told_and_may_stop_the_planning():
    tools = [JobTool.model_validate(drill(number=n + 1)) for n in range(5)]
    seen = []
    plan_job(MACHINE, tools, 2, 0.005, lambda done, of: seen.append((done, of)))
    assert seen == [(n + 1, 5) for n in range(5)]

    def stop(done, of):
        raise InterruptedError

    with pytest.raises(InterruptedError):
        plan_job(MACHINE, tools, 2, 0.005, stop)
    with pytest.raises(NonnaError, match="no setter"):
        plan_job(MACHINE.model_copy(update={"setter": None}), tools, 2, 0.005)
