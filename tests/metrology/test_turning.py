"""How late a turning tool is touched, scatter an axis apart, displays that repeats do not average away."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.book.writing import Signature, event
from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.signing import recorded
from nonna.bench.station.site import Site
from nonna.metrology.doubt.scatter import scatter_by_axis, touch_scatter
from nonna.metrology.turning import lateness, lateness_of_edges, touched_after
from nonna.procedures.catalogue import evaluate
from nonna.procedures.session import Session
from nonna.shop.links.subjects import tool
from tests.support.documents import SETTER, START, TOOL


@given(feed=st.floats(1e-4, 0.1), back=st.lists(st.floats(0.0, 0.2), min_size=1, max_size=8), seed=st.integers(0, 99))
def test_a_touch_is_late_by_what_the_phase_makes_of_it(feed, back, seed):
    """Integration over the phase against a tool that comes down turn by turn."""
    edges = [each - min(back) for each in back]
    phase = float(np.random.default_rng(seed).uniform())
    passes = [
        (feed * t, i) for i in range(len(edges)) for n in range(4000)
        if (t := n + (phase + i / len(edges)) % 1.0) is not None and n * feed <= max(edges) + 2 * feed
    ]  # fmt: skip
    met = min(depth for depth, i in passes if depth >= edges[i] - 1e-15)
    assert touched_after(feed, edges, [phase])[0] == pytest.approx(met, abs=1e-12)
    known = lateness_of_edges(feed, edges)
    least, most = lateness(feed, len(edges)), lateness(feed)
    assert least.late - least.half_width - 1e-3 * feed <= known.late <= most.late + 1e-3 * feed


def test_one_edge_equal_edges_and_nobody_knows():
    assert (lateness(0.01).late, lateness(0.01).half_width) == (0.005, 0.0)
    four = lateness(0.01, 4)
    assert (four.late, four.half_width) == pytest.approx((0.003125, 0.001875))
    assert lateness(0.01, 0).late == pytest.approx(0.0025) and lateness(0.01, 0).half_width == pytest.approx(0.0025)
    assert lateness_of_edges(0.01, [0.0] * 4).late == pytest.approx(0.00125, rel=1e-3)
    assert lateness(0.0, 4).late == 0.0
    for wrong in ((-0.1, 1), (0.1, -1)):
        with pytest.raises(ValueError, match="below 0"):
            lateness(*wrong)


def turned(**setup):
    document = {**TOOL, "setup": {**TOOL["setup"], "feed_per_rev_mm": 0.01, "repeatability_mm": 0.0005, **setup}}
    return evaluate(document).quantity("length_mm").estimate


def test_a_length_says_what_its_edges_leave_open():
    one, four, unknown = turned(), turned(flutes=4), turned(flutes=0)
    assert turned(flutes=1).value == one.value  # absent: one
    assert one.value - four.value == pytest.approx(0.005 - 0.003125)
    assert one.u < four.u < unknown.u
    row = next(r for r in four.budget if r.source.startswith("which edge"))
    assert row.u == pytest.approx(0.001875 / math.sqrt(3)) and row.shape == "rectangular"
    known = turned(edges_back_mm=[0.0, 0.02, 0.02, 0.02])
    assert known.value == pytest.approx(one.value, abs=1e-6)  # one stands out by more than the feed


def test_the_tools_own_tooth_run_out_says_how_late_it_is_touched_until_an_insert_is_changed(shop):
    def setup(number=4):
        return prepared(Site.load(shop), "tool-length", tool(number)).facts.setup

    site = Site.load(shop)
    card = next(t for t in site.tools if t.number == 4)
    assert setup()["flutes"] == card.flutes == 5 and "edges_back_mm" not in setup()
    heights = [0.0, -0.012, -0.003, -0.02, -0.001]
    rows = [{"tooth": i, "position_mm": -340.0 + h} for i, h in enumerate(heights, 1) for _ in range(2)]
    opening = prepared(site, "tooth-runout", tool(4))
    session = Session("tooth-runout", opening.facts).take_all(rows, "typed", "2026-11-25T10:00:00+00:00")
    (receipt,) = shop.book.sign([recorded(site, session, opening, session.evaluate(), "K. Amsel")])
    assert setup()["edges_back_mm"] == pytest.approx([0.0, 0.012, 0.003, 0.02, 0.001], abs=1e-9)
    carried = prepared(Site.load(shop), "tool-length", tool(4)).carried["setup.edges_back_mm"]
    assert carried.record == receipt.number and "edges_back_mm" not in setup(5)
    shop.book.sign([event("insert-changed", Signature("K. Amsel", "Larch", tool(4), "", True, START))])
    assert "edges_back_mm" not in setup()


@given(flutes=st.integers(0, 12), seed=st.integers(0, 10_000))
def test_equal_or_unlike_edges_lie_within_what_is_said(flutes, seed):
    dice, feed = np.random.default_rng(seed), 0.01
    count = flutes or int(dice.integers(1, 13))
    back = dice.uniform(0.0, dice.choice([1e-6, 0.005, 0.05]), count)
    mean = float(touched_after(feed, back - back.min(), (np.arange(4000) + 0.5) / 4000).mean())
    said = lateness(feed, flutes)
    assert abs(mean - said.late) <= said.half_width + 1e-4 * feed


def test_scatter_of_one_axis_says_nothing_of_another():
    groups = {"x": {"+x": [0.0, 0.001], "-x": [5.0, 5.001]}, "z": {"top": [1.0, 1.009, 1.003]}, "y": {"+y": [2.0]}}
    found = scatter_by_axis(groups)
    assert found.by_axis["x"].s == pytest.approx(math.sqrt(2 * 0.5e-6 / 2)) and found.by_axis["x"].dof == 2
    assert found.by_axis["z"].dof == 2 and found.by_axis["z"].s > 5 * found.by_axis["x"].s
    assert found.borrowed == ("y",) and found.by_axis["y"].dof == 4 and found.flags == ("scatter-borrowed",)
    assert scatter_by_axis(groups, history=0.001).flags == ("scatter-above-history",)


def test_an_axis_touched_once_borrows_and_says_so(setter):
    setter["readings"] = [r for r in setter["readings"] if r["face"] in ("top", "+x", "-x")]
    seen: set[str] = set()
    setter["readings"] = [
        r for r in setter["readings"] if r["face"] == "top" or not (r["face"] in seen or seen.add(r["face"]))
    ]
    found = evaluate(setter)
    assert "scatter-borrowed" in found.flags
    assert found.quantity("width_x_mm").estimate.dof >= 2


@pytest.fixture
def setter():
    return {**SETTER, "setup": {k: v for k, v in SETTER["setup"].items() if not k.startswith("repeatability")}}


@given(n=st.integers(1, 50), display=st.floats(1e-4, 0.02), history=st.floats(1e-5, 0.02))
def test_repeats_do_not_average_a_display_away(n, display, history):
    touch = touch_scatter([[0.0] * n], history=history, history_dof=9, resolution=display)
    u, dof = touch.mean_u(n)
    assert u == pytest.approx(max(history / math.sqrt(n), display / math.sqrt(12)))
    assert dof == (9 if history / math.sqrt(n) >= display / math.sqrt(12) else math.inf)
