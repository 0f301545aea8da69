"""The tray's judgement: what is questioned, lengths in every school, where checks pay, how tools wear."""

import itertools
from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.station.site import Site
from nonna.bench.station.state import read_state
from nonna.bench.tray.doubtful_tools import doubtful
from nonna.bench.tray.table_change import TableChange
from nonna.bench.tray.tray import Tray
from nonna.errors import NonnaError
from nonna.metrology.check_planning import Operation, best_checks, expected_cost
from nonna.metrology.drifting.wear import wear
from nonna.metrology.safe_feeds import fastest_mm_min, stopping_mm
from nonna.procedures.telling import words_of
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.schools import LengthTable, School, changed, doubts, shifted, whole
from nonna.shop.links.judge import State
from nonna.shop.links.subjects import Subject
from nonna.shop.links.subjects import tool as tool_of
from nonna.stations.mill.planning.choose import choose
from nonna.stations.touched_tools import Wish
from tests.support.plans import MACHINE, machine_with


def tool(**more):
    return Tool.model_validate({"number": 1, "kind": "drill", "diameter_mm": 8.0, "length_mm": 112.0, **more})


@pytest.mark.parametrize(
    ("tools", "field", "suggestion", "words"),
    [
        ([tool(length_mm=4.43)], "length_mm", 4.43 * 25.4, "shorter than any holder"),
        ([tool(length_mm=2844.8)], "length_mm", 112.0, "taken for inches"),
        ([tool(length_mm=460.0)], "length_mm", 460.0 / 25.4, "does not fit"),
        ([tool(diameter_mm=0.1)], "diameter_mm", 2.54, "thinner than a hair"),
        ([tool(diameter_mm=125.0)], "diameter_mm", None, "larger than the changer"),
        ([tool(diameter_mm=1600.0)], "diameter_mm", 1600 / 25.4, "larger than the changer"),
        ([tool(number=49)], "number", None, "48 pockets"),
        ([tool(), tool(length_mm=80.0)], "number", None, "stands 2 times"),
    ],
)
def test_suspicious_entries_are_questioned(tools, field, suggestion, words):
    found = doubtful(tools, MACHINE, 80.0)
    assert len(found) == 1
    assert (found[0].field, found[0].suggestion_mm) == (field, pytest.approx(suggestion) if suggestion else None)
    assert words in words_of(found[0].words)


def test_sound_tools_are_not_questioned():
    assert doubtful([tool(), tool(number=2, length_mm=None, diameter_mm=80.0)], MACHINE, 80.0) == ()


lengths = st.dictionaries(
    st.sampled_from([f"T{i}" for i in range(1, 9)]),
    st.integers(-4 * 10**9, 4 * 10**9).map(lambda n: n / 10**7),
    min_size=1,
)


@given(lengths, st.floats(0.001, 400), st.floats(0.001, 400))
def test_changing_schools_loses_nothing(values, reference, probe):
    start = LengthTable.absolute(values)
    relative = changed(start, School.RELATIVE, reference)
    assert changed(changed(relative, School.PROBE, probe), School.ABSOLUTE).floats() == values
    assert relative.lengths == {n: Decimal(repr(v)) - Decimal(repr(reference)) for n, v in values.items()}
    assert shifted(shifted(start, 0.1), -0.1) == start


def test_schools_by_hand():
    table = LengthTable.absolute({"T1": 112.418, "T2": 98.77})
    relative = changed(table, School.RELATIVE, 112.418)
    assert relative.floats() == {"T1": 0.0, "T2": -13.648}
    assert shifted(table, -0.05, ["T2"]).floats() == {"T1": 112.418, "T2": 98.72}
    own = {"T1": 3e-4, "T2": 4e-4}
    absolute = doubts(own, 8e-4, School.ABSOLUTE)
    assert (absolute.common, whole(absolute, "T2")) == (8e-4, pytest.approx((16e-8 + 64e-8) ** 0.5))
    assert (
        doubts(own, 8e-4, School.RELATIVE, 3e-4).common == 3e-4
    )  # the plane's error cancels, the reference's own stays
    with pytest.raises(NonnaError):
        changed(table, School.ABSOLUTE, 5.0)
    with pytest.raises(NonnaError):
        shifted(table, 1.0, ["T9"])


ops = st.lists(
    st.builds(
        Operation, tool=st.sampled_from("abc"), minutes=st.just(1.0), break_probability=st.floats(0, 0.3),
        loss=st.floats(0, 100),
        feature=st.sampled_from(["", "hole", "pocket"]),
    ),
    min_size=1, max_size=8,
)  # fmt: skip


@given(ops, st.floats(0, 5))
def test_checks_are_placed_at_least_cost(operations, cost):
    plan = best_checks(operations, cost)
    every = (c for n in range(len(operations) + 1) for c in itertools.combinations(range(len(operations)), n))
    assert plan.cost == pytest.approx(min(expected_cost(operations, chosen, cost) for chosen in every), abs=1e-12)
    assert plan.cost <= min(plan.cost_without, plan.cost_with_all) + 1e-12


@given(ops, st.floats(0, 5), st.integers(0, 10_000))
def test_the_expected_cost_is_what_chance_makes_of_it(operations, cost, seed):
    """Played through many times with the same choice, breaks by chance cost what was expected."""
    operations = [replace(op, break_probability=max(0.02, op.break_probability)) for op in operations]
    after = best_checks(operations, cost).after
    dice, total, rounds = np.random.default_rng(seed), [], 4000
    for draw in dice.random((rounds, len(operations))):
        paid, broken = cost * len(after), {}
        for i, op in enumerate(operations):
            for first in broken.values():
                paid += op.loss if first in ("", op.feature) or not op.feature else 0.0
            if op.tool not in broken and draw[i] < op.break_probability:
                broken[op.tool] = op.feature
            if i in after:
                broken.pop(op.tool, None)
        total.append(paid)
    spread = np.std(total) / rounds**0.5
    assert np.mean(total) == pytest.approx(expected_cost(operations, after, cost), abs=6 * spread + 1e-9)


def test_a_check_before_a_tap_that_follows_a_drill_comes_out_by_itself():
    operations = [
        Operation("face mill", 4.0, 0.0005, 5.0),
        Operation("drill", 1.0, 0.01, 2.0, "holes"),
        Operation("tap", 1.0, 0.003, 120.0, "holes"),
        Operation("chamfer", 0.5, 0.0005, 1.0, "holes"),
    ]
    plan = best_checks(operations, 0.4)
    assert plan.after == (1,)
    assert plan.cost < min(plan.cost_without, plan.cost_with_all)
    assert plan.saved == pytest.approx([0.0, plan.cost_without - plan.cost, 0.0, 0.0])
    assert plan.vain_minutes_without - plan.vain_minutes == pytest.approx(0.01 * (1.0 + 0.5))
    for bad in (Operation("x", 1, 1.5, 0), Operation("x", -1, 0.5, 0), Operation("x", 1, 0.5, float("nan"))):
        with pytest.raises(NonnaError):
            best_checks([bad], 1.0)


def test_wear_and_what_is_left():
    found = wear([-0.002 * i for i in range(6)], 0.05)
    assert found.rate_mm == pytest.approx(-0.002)
    assert found.left == pytest.approx((0.05 - 0.010) / 0.002)
    rng = np.random.default_rng(1)
    noisy = wear(list(-0.001 * np.arange(20) + rng.normal(0, 0.002, 20)), 0.1)
    assert noisy.left_at_least < noisy.left
    assert wear([0.0, 0.001, 0.002], 0.05).left is None
    for n in (3, 5, 12):  # scatter alone is taken for wear once in twenty, however few the checks
        wrong = sum(wear(rng.normal(0, 0.002, n), 0.05).seen for _ in range(2000)) / 2000
        assert wrong == pytest.approx(0.05, abs=0.02)
    with pytest.raises(NonnaError):
        wear([0.0, 0.1], 0.05)


def test_wishes_are_followed_as_far_as_nothing_crashes():
    mill = tool(kind="end-mill", diameter_mm=16.0)
    plain = choose(mill, MACHINE, wish=Wish("centre-static", reason="ground flat"))
    assert (plain.method, plain.refused) == ("centre-static", "") and "ground flat" in plain.reasons[0]
    turned = choose(mill, MACHINE, wish=Wish("offset-rotating", "-y", 5.0))
    assert turned.offset_mm == (0.0, -5.0) and turned.direction == "ccw" and not turned.refused
    hollow = mill.model_copy(update={"centre_cutting": False})
    wall = [{"name": "vice", "box_mm": [[700, 0, -560], [740, 48, -300]]}]
    for wish, body, machine, words in (
        (Wish("centre-static"), hollow, MACHINE, "open"),
        (Wish("offset-rotating", "+x", 40.0), mill, MACHINE, "past the pad"),
        (Wish("offset-rotating", "-y", 6.0), mill, machine_with(obstacles=wall), "vice"),
        (Wish("offset-rotating", "-x", 6.0), mill, machine_with({"clear_sides": ["+x"]}), "not marked clear"),
    ):
        assert words in choose(body, machine, wish=wish).refused


def test_stopping_distance_by_hand():
    assert stopping_mm(600.0, 0.002, 2500.0) == pytest.approx(10 * 0.002 + 100 / 5000)
    assert stopping_mm(fastest_mm_min(0.5, 0.002, 2500.0), 0.002, 2500.0) == pytest.approx(0.5)
    assert fastest_mm_min(0.0, 0.002, 2500.0) == 0.0


def test_a_tool_that_moves_to_another_pocket_keeps_its_records(shop):
    site = Site.load(shop)
    tray = Tray(tools=site.tools)
    two = tray.tool(2)
    moved = tray.with_tool(two.model_copy(update={"number": 40}), 2)
    assert moved.tool(40).subject == two.subject == tool_of(2)
    fresh = moved.with_tool(Tool(number=2, kind="drill", diameter_mm=3.0))
    assert fresh.tool(2).subject == Subject.of("tool:T2-2") != tool_of(2)  # what that pocket had before is not its own
    assert str(fresh.tool(2).subject) == "tool:T2-2" and len({t.subject for t in fresh.tools}) == len(fresh.tools)
    again = fresh.merged(
        [Tool(number=2, kind="drill", diameter_mm=3.1), Tool(number=40, kind="drill", diameter_mm=8.5)]
    )
    assert [again.tool(n).subject for n in (2, 40)] == [fresh.tool(2).subject, tool_of(2)]
    stored = TableChange.between(tray, again).write(site)
    assert stored.called(tool_of(2)) == "T40, known as T2" and stored.called(tool_of(3)) == "T3"
    found = stored.results().held("tool-length", "length_mm", tool_of(2))
    assert found is not None and stored.results().held("tool-length", "length_mm", fresh.tool(2).subject) is None
    states = dict(next(s for s in read_state(stored.folder).links if s.link.key == "tools").subjects)
    assert set(states) == {t.subject for t in stored.tools}
    assert states[tool_of(2)] is not State.NEVER and states[fresh.tool(2).subject] is State.NEVER
