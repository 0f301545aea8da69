"""Numerics against tables, published examples and GTC itself."""

import math

import numpy as np
import pytest
from GTC import multiple_ureal, ureal
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NoRepeatabilityError, TooFewReadingsError
from nonna.metrology.doubt.coverage import Source, carried_dof, coverage_factor, effective_dof
from nonna.metrology.doubt.decision import Rule, Verdict, decide, decide_interval, worst
from nonna.metrology.doubt.quantiles import chi_square, student_t, variance_ratio
from nonna.metrology.doubt.scatter import pooled, touch_scatter
from nonna.metrology.doubt.series import fit_trend, grubbs_outliers
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.drifting.thermal import Climate, at_temperature


@pytest.mark.parametrize(
    ("found", "table"),
    [
        (student_t(0.975, 1), 12.706),
        (student_t(0.975, 4), 2.776),
        (student_t(0.95, 9), 1.833),
        (student_t(0.975, math.inf), 1.960),
        (variance_ratio(0.99, 4, 10), 5.994),
        (variance_ratio(0.99, 5, math.inf), 15.086 / 5),
        (chi_square(0.95, 9), 16.919),
        (chi_square(0.05, 9), 3.325),
    ],
)
def test_quantiles_match_printed_tables(found, table):
    assert found == pytest.approx(table, abs=6e-4)


def test_quantiles_refuse_nonsense():
    for p, dof in ((0.0, 3), (1.0, 3), (0.5, 0), (0.5, -1)):
        with pytest.raises(ValueError, match="must"):
            student_t(p, dof)


def test_pooling_is_the_mean_of_group_variances_weighted_by_freedom():
    a, b = [1.0, 2.0, 4.0], [10.0, 10.5]
    together = pooled([a, b, [7.0]])
    assert together.dof == 3
    assert together.variance == pytest.approx((2 * np.var(a, ddof=1) + np.var(b, ddof=1)) / 3)
    assert pooled([[0.1 + 0.2] * 7]).variance == 0.0


def test_history_is_used_and_tested():
    quiet = touch_scatter([[0.0, 0.001, 0.0005]], history=0.001, history_dof=24)
    assert (quiet.s, quiet.dof, quiet.from_history, quiet.above_history) == (0.001, 24, True, False)
    assert touch_scatter([[0.0, 0.006, 0.003]], history=0.001).above_history
    edge = math.sqrt(variance_ratio(0.99, 1, 9)) * 0.001 * math.sqrt(2)  # two touches this far apart lie on the limit
    assert not touch_scatter([[0.0, edge * 0.999]], history=0.001, history_dof=9).above_history
    assert touch_scatter([[0.0, edge * 1.001]], history=0.001, history_dof=9).above_history
    assert touch_scatter([[5.0]], history=0.001).mean_u(1) == (pytest.approx(1e-3), math.inf)


def test_nothing_to_take_scatter_from_is_an_error():
    for groups, resolution in (([[1.0]], 0.0), ([[1.0]], 0.001), ([[1.0, 1.0]], 0.0), ([[1.0], [2.0]], 0.0)):
        with pytest.raises(NoRepeatabilityError):
            touch_scatter(groups, resolution=resolution)


def test_resolution_wins_only_where_it_gives_the_larger_interval():
    rounding = 0.001 / math.sqrt(12)
    assert touch_scatter([[1.0, 1.0, 1.0]], resolution=0.001).mean_u(3) == (rounding, math.inf)
    u, dof = touch_scatter([[1.0, 1.001, 1.002]], resolution=0.001).mean_u(3)
    assert (u, dof) == (pytest.approx(1e-3 / math.sqrt(3)), 2)
    assert touch_scatter([[1.0, 1.0]], resolution=0.001).mean_u(2) == (rounding, 1)  # one dof stays one


@pytest.mark.parametrize("dof", [1, 2, 4, 30])
def test_coverage_factor_is_exact_where_one_source_is_alone(dof):
    assert coverage_factor([Source("a", 0.3, dof)]) == pytest.approx(student_t(0.975, dof))
    assert coverage_factor([Source("a", 0.3, dof)], 0.95) == pytest.approx(student_t(0.95, dof))
    assert coverage_factor([Source("a", 0.3, math.inf)]) == pytest.approx(1.959964, abs=1e-6)
    assert coverage_factor([Source("a", 0.3, math.inf, "rectangular")]) == pytest.approx(0.95 * math.sqrt(3), abs=4e-4)
    assert coverage_factor([Source("a", 1, math.inf, "rectangular")], 0.95) == pytest.approx(
        0.9 * math.sqrt(3), abs=4e-4
    )
    with pytest.raises(ValueError, match="uncertainty"):
        coverage_factor([])


@given(
    u=st.lists(st.floats(0.01, 10), min_size=2, max_size=4),
    dof=st.lists(st.floats(1, 50), min_size=4, max_size=4),
)
def test_budget_and_freedom_agree_with_gtc(u, dof):
    influences = Influences()
    rows = list(zip(u, dof, strict=False))
    numbers = [influences.add(f"source {i}", 1.0, ui, di) for i, (ui, di) in enumerate(rows)]
    mine = influences.estimate(sum(numbers))
    gtc = sum(ureal(1.0, ui, di) for ui, di in rows)
    assert mine.u == pytest.approx(gtc.u)
    assert mine.dof == pytest.approx(gtc.df)
    assert sum(row.share for row in mine.budget) == pytest.approx(1.0)
    assert mine.k <= max(student_t(0.975, di) for _, di in rows) + 1e-9


def test_a_pooled_scatter_counts_once():
    influences = Influences()
    a, b = influences.add_together("touches", [3.0, 1.0], [0.1, 0.2], 4)
    mine = influences.estimate((a + b) / 2)
    x, y = multiple_ureal([3.0, 1.0], [0.1, 0.2], 4)
    assert mine.dof == pytest.approx(((x + y) / 2).df) == pytest.approx(4)
    assert mine.u == pytest.approx(((x + y) / 2).u)
    assert len(mine.budget) == 1
    assert effective_dof([Source("a", 1.0, 4), Source("b", 1.0, math.inf)]) == pytest.approx(16)
    with pytest.raises(ValueError, match="finite"):
        influences.add("x", 1.0, -0.1)
    with pytest.raises(NoRepeatabilityError):
        influences.estimate(3.0)


def test_several_sources_of_few_degrees_of_freedom_count_as_one_of_the_same_moments():
    two = [Source("a", 1.0, 2), Source("b", 1.0, 2)]  # w = 1/2 each: A = 1/4, B = 1/16, W = 1, nu = 4
    assert coverage_factor(two) == pytest.approx(student_t(0.975, 4))
    mixed = [Source("a", 1.0, 3), Source("b", 0.5, 9), Source("c", 2.0, math.inf)]
    shares = [1 / 5.25, 0.25 / 5.25]
    a, b = shares[0] ** 2 / 3 + shares[1] ** 2 / 9, shares[0] ** 3 / 9 + shares[1] ** 3 / 81
    z2 = student_t(0.975, math.inf) ** 2
    k2 = z2 + (a**2 / b) ** 2 * (student_t(0.975, a**3 / b**2) ** 2 - z2)
    assert coverage_factor(mixed) == pytest.approx(math.sqrt(k2))
    assert coverage_factor([Source("r", 1.0, math.inf, "rectangular")]) == pytest.approx(0.95 * math.sqrt(3), abs=1e-3)


@given(dof=st.floats(1.0, 500.0))
def test_what_is_carried_has_the_freedom_of_its_factor(dof):
    assert carried_dof(student_t(0.975, dof)) == pytest.approx(dof, rel=1e-6)
    assert math.isinf(carried_dof(1.96)) and math.isinf(carried_dof(1.7))
    assert carried_dof(19.97) == 0.99  # never less than what a file may carry


@given(tiny=st.floats(1e-300, 1e-150), dof=st.one_of(st.floats(0.99, 40.0), st.just(math.inf)))
def test_doubts_whose_squares_underflow_are_reckoned_with(tiny, dof):
    touch = touch_scatter([[0.0, 0.001, 0.0005]], history=tiny, history_dof=9)
    assert touch.above_history
    influences = Influences()
    number = influences.add("a", 1.0, tiny, dof) + influences.add("b", 0.0, tiny, 2)
    found = influences.estimate(number)
    assert (
        0.0 < found.u < 2e-150 and math.isfinite(found.k) and sum(r.share for r in found.budget) == pytest.approx(1.0)
    )


@given(
    value=st.floats(-1, 1), limit=st.floats(0, 1), guard=st.floats(0, 0.5), kind=st.sampled_from(["guarded", "simple"])
)
def test_decisions_never_pass_what_the_doubt_does_not_allow(value, limit, guard, kind):
    verdict = decide(value, limit, guard, Rule(kind))
    assert verdict == decide(-value, limit, guard, Rule(kind))
    if kind == "simple":
        assert (verdict is Verdict.PASS) == (abs(value) <= limit)
    else:
        assert (verdict is Verdict.PASS) == (abs(value) + guard <= limit)
        assert (verdict is Verdict.FAIL) == (abs(value) - guard > limit)
    assert decide(value, None, guard, Rule(kind)) is Verdict.NONE


def test_several_limits_give_the_worst():
    p, f, u, n = Verdict.PASS, Verdict.FAIL, Verdict.UNDECIDED, Verdict.NONE
    assert [worst(v) for v in ([p, u, f], [p, u], [p, n], [n], [])] == [f, u, p, n, n]
    assert [decide_interval(1, 2, 3, limit, Rule()) for limit in (3.1, 2.5, 0.9, None)] == [p, u, f, n]
    assert decide_interval(1, 2, 3, 2.0, Rule("simple")) is p


def test_a_master_grows_with_its_temperature():
    influences = Influences()
    climate = Climate(22.0, 0.3, 11.5e-6, 1e-6)
    grown = influences.estimate(at_temperature(influences.add("length", 140.0, 0.0004), *climate.enter(influences)))
    assert grown.value == pytest.approx(140.0 * (1 + 11.5e-6 * 2))
    by_source = {row.source: row.u for row in grown.budget}
    assert by_source["temperature"] == pytest.approx(140.0 * 11.5e-6 * 0.3)
    assert by_source["expansion of the master"] == pytest.approx(140.0 * 2 * 1e-6)
    assert by_source["length"] == pytest.approx(0.0004, rel=1e-4)


def test_grubbs_finds_the_published_outlier():
    # Tietjen and Moore's uranium isotope ratios, as in the NIST/SEMATECH e-Handbook, section 1.3.5.17.1
    readings = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]
    assert grubbs_outliers(readings) == (7,)
    assert grubbs_outliers([1.0] * 6) == ()
    assert grubbs_outliers([1.0, 2.0, 500.0, 1.5, 1.2, 1.1, 40.0, 1.3, 1.6, 1.4]) == (2, 6)


def test_trend_is_the_textbook_line():
    y = np.array([0.1, 0.3, 0.2, 0.5, 0.4, 0.7])
    trend = fit_trend(y)
    slope, _ = np.polyfit(np.arange(6), y, 1)
    assert trend.per_touch == pytest.approx(slope)
    assert 0.0 < trend.p < 0.02
    assert fit_trend([1.0, 1.0, 1.0]).p == 1.0
    with pytest.raises(TooFewReadingsError):
        fit_trend([1.0, 2.0])
