"""Drift: charts by hand, steps told from drift, the trend and where it meets a limit, against brute force."""

import json
import math
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.station.drift_document import drift
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.metrology.drifting.drift import ewma, individuals, meets, steps, trend
from tests.support.series import BEGUN, series


def test_charts_by_hand():
    x = np.array([1.0, 3.0, 2.0, 2.0])
    single, ranges = individuals(x)
    assert (single.centre, single.lower, single.upper) == (2.0, 2.0 - 2.66, 2.0 + 2.66) and single.out == ()
    assert ranges.centre == 1.0 and ranges.upper == pytest.approx(3.267)
    assert ewma(x).values == pytest.approx([1.8, 2.04, 2.032, 2.0256])
    single, ranges = individuals(np.array([0.0, 0.1] * 8 + [2.0]))
    assert single.out == (16,) and ranges.out == (16,)
    sigma = np.abs(np.diff([0.0] * 9 + [1.0])).mean() / 1.128
    grown = 3 * sigma * math.sqrt(0.2 / 1.8 * (1 - 0.8**2))  # of the second point
    smooth = ewma(np.array([0.0] * 9 + [1.0]))
    assert (1 in smooth.out) == (abs(smooth.values[1] - 0.1) > grown)
    assert individuals(np.full(5, 0.3))[0].out == () and ewma(np.full(5, 0.3)).out == ()


@pytest.mark.parametrize("slope", [0.0, 0.3])
def test_scatter_and_plain_drift_are_no_steps(slope):
    dice, wrong = np.random.default_rng(3), 0
    for _ in range(600):
        n = int(dice.integers(6, 30))
        t = np.sort(dice.uniform(0, 200, n))
        wrong += bool(steps(t, slope * t + dice.normal(0, 1, n)))
    assert wrong / 600 <= 0.02


@pytest.mark.parametrize("slope", [0.0, 0.05])
def test_a_step_is_found_where_it_is_and_as_large_as_it_is(slope):
    dice, found = np.random.default_rng(4), 0
    for _ in range(200):
        t, at = np.arange(24.0) * 3.0, int(dice.integers(6, 18))
        x = slope * t + dice.normal(0, 1, 24) + np.where(np.arange(24) >= at, 8.0, 0.0)
        places = [each.index for each in steps(t, x)]
        found += len(places) >= 1 and any(abs(place - at) <= 1 for place in places)
    assert found / 200 >= 0.95


def test_moved_and_put_back_are_two_steps():
    dice = np.random.default_rng(5)
    x = dice.normal(0, 1, 20) + np.where((np.arange(20) >= 8) & (np.arange(20) < 13), 9.0, 0.0)
    answer = drift(series(x * 1e-3, events=[{"t": (BEGUN + timedelta(days=7.5)).isoformat(), "name": "bumped"}]))
    assert [step["index"] for step in answer["steps"]] == [8, 13]
    assert [step["event"] for step in answer["steps"]] == ["bumped", None]
    up, down = (step["size_mm"] for step in answer["steps"])
    assert up == pytest.approx(9e-3, abs=2e-3) and down == pytest.approx(-9e-3, abs=2e-3)
    before, between = x[:8] * 1e-3, x[8:13] * 1e-3
    s2 = (((before - before.mean()) ** 2).sum() + ((between - between.mean()) ** 2).sum()) / 11
    assert answer["steps"][0]["u_mm"] == pytest.approx(math.sqrt(s2 * (1 / 8 + 1 / 5)))


@given(st.integers(0, 10_000), st.floats(-1e3, 1e3), st.floats(1e-3, 1e3), st.booleans())
def test_where_it_stands_and_how_it_is_counted_changes_nothing(seed, shift, scale, turned):
    dice = np.random.default_rng(seed)
    t, x = np.sort(dice.uniform(0, 100, 14)), dice.normal(0, 1, 14) + np.where(np.arange(14) > 7, 5.0, 0.0)
    sign = -1.0 if turned else 1.0
    assert [s.index for s in steps(t + shift, sign * scale * x + shift * scale)] == [s.index for s in steps(t, x)]


def test_the_trend_holds_the_truth_as_often_as_it_says():
    dice, inside = np.random.default_rng(6), 0
    for _ in range(2000):
        t = np.sort(dice.uniform(0, 100, 6))
        line = trend(t, 0.02 * t + dice.normal(0, 1, 6))
        inside += abs(line.slope - 0.02) <= 2.776445 * line.u
    assert 0.94 <= inside / 2000 <= 0.96


@given(st.integers(0, 10_000), st.floats(-0.05, 0.05), st.floats(1.0, 20.0))
def test_meeting_a_limit_against_brute_force(seed, slope, upper):
    dice = np.random.default_rng(seed)
    t = np.sort(dice.uniform(0, 100, 9))
    line = trend(t, slope * t + dice.normal(0, 0.5, 9))
    now = 101.0
    got = meets(line, now, None, upper)
    days = np.linspace(0.0, 3652.5, 400_000)
    tau = now + days - line.middle
    band = 2.364624 * line.s * np.sqrt(1 / 9 + tau**2 / line.spread)
    for name, way in (("line", 0.0), ("earliest", 1.0), ("latest", -1.0)):
        over = np.flatnonzero(line.mean + line.slope * tau + way * band >= upper)
        have = None if got is None else getattr(got, name)
        if have is None:
            assert over.size == 0 or days[over[0]] > 3652.0
        else:
            assert over.size and have == pytest.approx(days[over[0]], abs=0.02)


def test_the_next_date_comes_before_the_earliest_meeting_and_within_the_interval():
    days = np.arange(12.0) * 10
    rising = drift(series(1e-4 * days + 1e-5 * (-1.0) ** np.arange(12), days, upper_mm=0.02, interval_days=365))
    now = BEGUN + timedelta(days=111)
    earliest = datetime.fromisoformat(rising["meets"]["earliest"]).replace(tzinfo=UTC)
    advised = datetime.fromisoformat(rising["advised"]["date"]).replace(tzinfo=UTC)
    assert rising["advised"]["why"] == "drift" and now < advised < earliest
    assert (advised - now) / (earliest - now) == pytest.approx(0.9, abs=0.02)
    assert rising["meets"]["earliest"] <= rising["meets"]["date"] <= rising["meets"]["latest"]
    calm = drift(series(1e-5 * (-1.0) ** np.arange(12), days, lower_mm=-0.02, upper_mm=0.02, interval_days=90))
    assert calm["advised"] == {"date": (BEGUN + timedelta(days=200)).date().isoformat(), "why": "interval"}
    assert drift(series([1.0, 2.0]))["advised"] is None and drift(series([1.0, 2.0]))["trend"] is None


def test_the_command_and_what_it_refuses(tmp_path, capsys):
    good = series([0.0, 0.001, 0.002, 0.001])
    shuffled = {**good, "points": good["points"][::-1]}
    assert drift(good) == drift(shuffled)
    lines = [
        good,
        {**good, "now": "yesterday"},
        {**good, "points": good["points"][:1]},
        {**good, "lower_mm": 1.0, "upper_mm": 0.0},
        {"format": "nonna-series/1"},
    ]
    (tmp_path / "s.jsonl").write_text("\n".join(map(json.dumps, lines)))
    assert run(["drift", "--jsonl", str(tmp_path / "s.jsonl")], lambda _: 0) == 1
    said = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert said[0] == drift(good) and ["error" in line for line in said] == [False, True, True, True, True]
    assert [line["error"]["where"] for line in said[1:3]] == ["now", "points"]
    (tmp_path / "one.json").write_text(json.dumps(good))
    assert run(["drift", str(tmp_path / "one.json")], lambda _: 0) == 0
    with pytest.raises(NonnaError, match="zone"):
        drift({**good, "now": "2026-05-04T07:30:00"})
