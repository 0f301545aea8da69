"""Numbers held against simulators of their own: dates of a drift, wear of a process, ranges of teeth, displays,
refusals.
"""

import json
import math

import numpy as np
import pytest

from nonna.adapters.papers.pdf_letters import MISSING, ready, set_in, unprintable
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.metrology.doubt.spread_of_means import true_range
from nonna.metrology.doubt.uncertain import Estimate
from nonna.metrology.drifting.drift import steps
from nonna.metrology.drifting.forecast import forecast, lag_one
from nonna.metrology.drifting.wear_process import Part, follow, next_by_process
from nonna.metrology.gauge_study import crossed, single
from nonna.procedures.catalogue import evaluate
from nonna.procedures.evaluation import Quantity
from nonna.procedures.wording import result_words
from nonna.shop.texts import strict_json
from nonna.wording.lengths import Units
from tests.support.series import series


def dated(truth, dice, n, spacing, scatter=1.0):
    """Return whether the date that is given holds for a truth over days, None where none is given."""
    t = np.cumsum(dice.uniform(0.5, 1.5, n) * spacing)
    now = t[-1] + 1.0
    limit = float(truth(now)) + dice.uniform(2.0, 8.0)
    x = truth(t) + dice.normal(0, scatter, n)
    found = forecast(t, x, tuple(each.index for each in steps(t, x)), now, None, limit)
    if found.meeting is None:
        return None
    days = np.arange(0.0, 3652.5)
    over = np.flatnonzero(truth(now + days) >= limit)
    true = float(over[0]) if over.size else math.inf
    earliest = math.inf if found.meeting.earliest is None else found.meeting.earliest
    latest = math.inf if found.meeting.latest is None else found.meeting.latest
    return earliest - 1 <= true <= latest + 1 or (true == latest == math.inf)


@pytest.mark.parametrize("step", [0.0, 8.0])
def test_dates_of_a_line_hold_as_often_as_they_say(step):
    dice, held = np.random.default_rng(11), []
    for _ in range(500):
        n, spacing = int(dice.integers(10, 28)), float(dice.choice([7, 14, 30]))
        slope, at = dice.uniform(3, 10) / (n * spacing), n * spacing * dice.uniform(0.3, 0.6)
        held.append(dated(lambda d, s=slope, a=at: s * d + step * (d >= a), dice, n, spacing))
    told = [h for h in held if h is not None]
    assert len(told) > 0.6 * len(held)
    assert 0.92 <= np.mean(told) <= 0.985  # 2.2 standard errors about 93 to 97 %


def test_no_date_where_a_season_or_a_wander_would_be_taken_for_drift():
    dice = np.random.default_rng(12)
    for kind in ("seasonal", "wander"):
        none = 0
        for _ in range(60):
            if kind == "seasonal":
                phase = dice.uniform(0, 6.28)
                held = dated(lambda d, p=phase: 6.0 * np.sin(2 * np.pi * d / 365.25 + p), dice, 26, 14.0)
            else:
                grid = np.concatenate(([0.0], np.cumsum(dice.normal(0, 0.6, 6000))))
                held = dated(lambda d, g=grid: np.interp(d, np.arange(6001), g), dice, 26, 14.0, 0.1)
            none += held is None
        assert none >= 42, kind  # most say why instead


def test_flags_stand_in_the_answer_and_temperature_is_taken_out():
    from nonna.bench.station.drift_document import drift

    days = np.arange(30.0) * 12
    season = 0.01 * np.sin(2 * np.pi * days / 365.25)
    dice = np.random.default_rng(1)
    answer = drift(series(season + dice.normal(0, 1e-4, 30), days, upper_mm=0.5))
    assert answer["meets"] is None and "seasonal" in answer["flags"]
    document = series(season + 1e-5 * days + dice.normal(0, 1e-5, 30), days, upper_mm=0.01)
    for point, value in zip(document["points"], season, strict=True):
        point["temperature_c"] = float(20 + 300 * value)  # the season comes with the hall's temperature
    told = drift(document)
    assert "seasonal" not in told["flags"]
    assert told["trend"]["per_day_mm"] == pytest.approx(1e-5, rel=0.2)
    assert drift(series(dice.normal(0, 1e-4, 12), upper_mm=0.5))["flags"] in ([], ["autocorrelated"])
    assert abs(lag_one(dice.normal(0, 1, 4000))) < 0.05 and lag_one(np.cumsum(dice.normal(0, 1, 400))) > 0.9


def test_a_steady_process_is_left_and_a_drifting_one_followed():
    dice, u = np.random.default_rng(3), 0.3

    def rms(errors, gain=None):
        wear, seen, out = 0.0, [], []
        for error in errors:
            out.append(error + wear)
            measured = out[-1] + dice.normal(0, u)
            if gain is not None:
                wear -= gain * measured
                continue
            seen.append(Part(measured, u, wear))
            if len(seen) > 1:
                wear = next_by_process(seen, wear, 0.5, gain=0.7, step_limit=math.inf, stop=math.inf).wear
        return float(np.mean(np.square(out)))

    steady = [dice.normal(0, 3.8, 120) for _ in range(60)]
    ours, none, fixed = (
        np.sqrt(np.mean([f(e) for e in steady])) for f in (rms, lambda e: float(np.mean(e**2)), lambda e: rms(e, 0.7))
    )
    assert ours < 1.04 * none and fixed > 1.15 * none
    drifts = [dice.uniform(0.3, 1.2) * np.arange(50) + dice.normal(0, dice.uniform(0.8, 1.8), 50) for _ in range(60)]
    best = min(np.sqrt(np.mean([rms(e, g) for e in drifts])) for g in (0.1, 0.2, 0.3, 0.5, 0.7))
    assert np.sqrt(np.mean([rms(e) for e in drifts])) < 1.02 * best


def test_a_broken_edge_is_never_followed():
    dice = np.random.default_rng(4)
    parts = [Part(float(dice.normal(0, 1e-3)), 3e-4) for _ in range(20)]
    broken = [*parts, Part(0.15, 3e-4)]
    found = next_by_process(broken, 0.0, 0.5, gain=0.7, step_limit=1.0, stop=1.0)
    assert (found.state, found.wear) == ("stop", 0.0) and follow(broken).off > 5.0
    assert next_by_process(parts, 0.0, 0.5, gain=0.7, step_limit=1.0, stop=1.0).state in ("leave", "correct")
    with pytest.raises(ValueError, match="one part"):
        follow([])


@pytest.mark.parametrize("true", [0.0, 0.004, 0.010, 0.030])
def test_a_range_of_teeth_is_freed_of_its_scatter(true):
    dice, found, seen, inside = np.random.default_rng(5), [], [], 0
    heights = np.array([0.0, 0.2, 0.7, 1.0, 0.5, 0.9]) * true
    for _ in range(600):
        means = heights + dice.normal(0, 0.003, 6)
        told = true_range(means.tolist(), 0.003)
        found.append(told.value)
        seen.append(np.ptp(means))
        inside += abs(told.value - true) <= 2.0 * told.u
    assert abs(np.mean(found) - true) < 0.4 * abs(np.mean(seen) - true) + 3e-4 or true == 0.0
    assert np.mean(found) < np.mean(seen) and inside / 600 >= 0.93
    assert true_range([1.0, 1.0], 0.001).value == 0.0
    with pytest.raises(ValueError, match="two means"):
        true_range([1.0], 0.001)


@pytest.mark.parametrize("teeth", [2, 4, 8])
@pytest.mark.parametrize("kind", ["alike", "one alone", "half of them", "unlike"])
def test_a_range_is_covered_however_the_teeth_stand(teeth, kind):
    dice, s, inside = np.random.default_rng(6), 0.002, 0
    for _ in range(400):
        heights = {
            "alike": np.zeros(teeth), "one alone": np.r_[0.05, np.zeros(teeth - 1)],
            "half of them": np.r_[np.full(teeth // 2, 0.05), np.zeros(teeth - teeth // 2)],
            "unlike": dice.uniform(0, 0.05, teeth),
        }[kind]  # fmt: skip
        told = true_range((heights + dice.normal(0, s, teeth)).tolist(), s)
        inside += abs(told.value - np.ptp(heights)) <= 1.96 * told.u
    assert 0.925 <= inside / 400 <= 0.99


def test_a_gauge_is_never_better_than_its_display():
    x = np.zeros((3, 2, 2)) + np.arange(3)[:, None, None] * 0.1
    x[0, 0, 1] += 0.001
    assert crossed(x, 0.01).repeatability == pytest.approx(0.01 / math.sqrt(12))
    assert single([1.0, 1.0, 1.0], 0.99, 0.001).s == pytest.approx(0.001 / math.sqrt(12))


def refused(document):
    with pytest.raises(NonnaError) as caught:
        evaluate({"format": "nonna-readings/1", **document})
    return caught.value.code, caught.value.where


def test_what_cannot_be_is_refused_with_its_place():
    rows = [{"part": part, "appraiser": 1, "value_mm": 1.0 + 0.001 * i} for i, part in enumerate((1, 1, 2))]
    study = {"procedure": "gauge-study", "setup": {"kind": "single", "reference_mm": 1.0}, "readings": rows}
    assert refused(study) == ("out-of-range", "readings[2].part")
    touches = [{"at": at, "position_mm": x} for at, x in (("+", 10.0), ("-", 0.0))]
    ring = {"procedure": "lathe-ring", "masters": {"ring": {"diameter_mm": 0}}, "readings": touches}
    assert refused({**ring, "setup": {"side": "internal", "repeatability_mm": 0.001}}) == (
        "out-of-range",
        "masters.ring.diameter_mm",
    )


@pytest.mark.parametrize("text", ['{"part": "\\ud800"}', '["\\udfff"]', '{"\\ud800x": 1}'])
def test_half_a_letter_is_no_json(text):
    with pytest.raises(NonnaError) as caught:
        strict_json.loads(text)
    assert caught.value.code == "not-json"
    assert strict_json.loads('["\\ud83d\\ude00", "é"]') == ["😀", "é"]


def test_the_far_end_of_the_calendar_and_the_lines_behind_it(tmp_path, capsys):
    far = series([1.0, 1.001, 1.002], upper_mm=2.0, interval_days=9e5)
    shift = {
        "points": [{**p, "t": p["t"].replace("2026", "8999")} for p in far["points"]],
        "now": "8999-12-31T00:00:00+00:00",
    }
    one = {**far, "points": far["points"][:1]}
    crossed_limits = {**far, "lower_mm": 3.0}
    (tmp_path / "s.jsonl").write_text("\n".join(json.dumps(d) for d in ({**far, **shift}, one, crossed_limits, far)))
    assert run(["drift", "--jsonl", str(tmp_path / "s.jsonl")], lambda _: 0) == 1
    lines = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [("error" in line and line["error"]["code"]) or "" for line in lines] == [
        "",
        "too-few-readings",
        "out-of-range",
        "",
    ]


@pytest.mark.parametrize(
    ("value", "expanded", "unit", "words"),
    [
        (35.8, 185.2, "ppm", "40 ± 190 ppm"), (-312.40512, 0.00143, "mm", "−312.4051 ± 0.0014 mm"),
        (0.00212, 0.00044, "mm", "2.12 ± 0.44 µm"),
        (0.0999, 0.00996, "mm", "100 ± 10 µm"), (13.99, 0.0996, "mm", "13.99 ± 0.10 mm"),
        (123.456, 7.06, "deg", "123.5 ± 7.1°"),
        (0.0021, 0.00013, "s", "2.10 ± 0.13 ms"), (1.5e-4, 3e-6, "1", "0.0001500 ± 0.0000030"),
        (0.0, 1234.0, "ppm", "0 ± 1200 ppm"),
    ],
)  # fmt: skip
def test_a_value_is_rounded_where_its_doubt_ends(value, expanded, unit, words):
    estimate = Estimate(value, expanded / 2.0, math.inf, 2.0, 1.645, ())
    assert result_words(Quantity("x", "X", value, unit, estimate), Units.MM) == words


def test_letters_of_other_alphabets_are_set_or_named():
    ready()
    assert unprintable("Zażółć gęślą jaźń Eₙ Жук Ω é") == ()
    assert unprintable("Ana 中文") == ("中", "文")
    assert set_in("Żuk & Co") == '<font name="Nonna-More">Ż</font>uk &amp; Co' and MISSING in set_in("中")
