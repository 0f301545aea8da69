"""How late a trigger is: the line through touches at several feeds, its doubt, its sheet on the stand-in."""

import numpy as np
import pytest

from nonna.bench.book.writing import Signature
from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.signing import prepare
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.lateness import fit_lateness
from nonna.procedures.catalogue import evaluate
from nonna.shop.links.subjects import SETTER
from nonna.stations.mill.planning.touches import top_touches_at
from tests.support.examples import document
from tests.support.stations import on_standin

FEEDS = (50.0, 200.0, 400.0)


def touches(late, rng, *, scatter=0.0005, jitter=0.0, towards=-1, count=5, feeds=FEEDS, plane=-340.0):
    return {
        f: [
            plane + towards * late * f / 60 + float(e)
            for e in rng.normal(size=count) * np.hypot(scatter, jitter * f / 60)
        ]
        for f in feeds
    }


def sheet(by_feed, **setup):
    rows = [{"feed_mm_min": f, "position_mm": at} for f, values in by_feed.items() for at in values]
    made = {"slow_mm_min": 50, "middle_mm_min": 200, "fast_mm_min": 400, "resolution_mm": 1e-4, **setup}
    return document("trigger-latency", made, rows)


def test_lateness_by_hand():
    exact = {60.0: [-1.001, -1.003, -1.002], 120.0: [-1.003, -1.005, -1.004], 240.0: [-1.007, -1.009, -1.008]}
    found = fit_lateness(exact)
    assert found.late.value == pytest.approx(0.002) and found.plane.value == pytest.approx(-1.0)
    u = 0.001 / 3**0.5  # of each mean; speeds 1, 2, 4 mm/s about 7/3
    assert found.late.u == pytest.approx(u / (42 / 9) ** 0.5)
    assert found.straight and found.jitter_s == 0.0
    assert fit_lateness(exact, towards=1).late.value == pytest.approx(-0.002)


def test_lateness_lies_within_its_doubt_in_94_to_96_percent_of_5000_machines():
    rng = np.random.default_rng(20)
    hits = 0
    for _ in range(5_000):
        late, jitter, scatter = rng.uniform(3e-4, 6e-3), rng.uniform(0, 5e-4), 10 ** rng.uniform(-3.5, -2.3)
        fast = rng.uniform(150, 600)
        made = touches(late, rng, scatter=scatter, jitter=jitter, feeds=(fast / 8, fast / 2, fast))
        found = fit_lateness(made, resolution=1e-4).late
        hits += abs(found.value - late) <= found.expanded
    assert 0.94 <= hits / 5_000 <= 0.96


def test_jitter_is_the_scatter_that_grows_with_speed():
    rng = np.random.default_rng(3)
    found = [
        fit_lateness(touches(0.002, rng, scatter=0.001, jitter=0.0006, count=60)).jitter_s ** 2 for _ in range(100)
    ]
    assert np.sqrt(np.mean(found)) == pytest.approx(0.0006, rel=0.1)


def test_the_sheet_says_what_is_wrong():
    rng = np.random.default_rng(5)
    result = evaluate(sheet(touches(0.002, rng))).to_document()
    late = result["results"]["latency_s"]
    assert late["unit"] == "s" and abs(late["value"] - 0.002) <= 1.5 * late["U"] and not result["flags"]
    bent = touches(0.002, rng)
    bent[200.0] = [at - 0.02 for at in bent[200.0]]  # the override stood at half
    assert "not-straight" in evaluate(sheet(bent)).flags
    upside_down = evaluate(sheet(touches(0.002, rng), towards="plus"))
    assert "trigger-before-contact" in upside_down.flags
    for fewer in ({50.0: [1.0, 1.1, 1.2], 200.0: [1.0, 1.1, 1.2]}, {**touches(0.002, rng), 600.0: [1.0, 1.0]}):
        with pytest.raises(NonnaError) as error:
            evaluate(sheet(fewer))
        assert error.value.code == "too-few-readings"
    alike = {50.0: [1.0, 1.1, 1.2], 50.0000001: [1.0, 1.2, 1.1], 50.0000002: [1.0, 1.2, 1.3]}
    with pytest.raises(NonnaError) as error:
        evaluate(sheet(alike))
    assert error.value.code == "degenerate-geometry"


@pytest.mark.parametrize(("noted", "least", "most"), [(1.0, 0.0, 0.09), (1.3, 0.9, 1.0), (0.75, 0.9, 1.0)])
def test_a_fast_feed_noted_wrongly_is_caught_by_the_line_or_by_the_record_before(noted, least, most):
    rng, caught, trials = np.random.default_rng(8), 0, 400
    for _ in range(trials):
        late = rng.uniform(1.5e-3, 6e-3)
        before = evaluate(sheet(touches(late, rng))).quantity("latency_s").estimate
        made = {f * (noted if f == max(FEEDS) else 1.0): v for f, v in touches(late, rng).items()}
        known = {"before_s": before.value, "before_u_s": before.u, "before_dof": min(before.dof, 1e6)}
        caught += bool({"not-straight", "changed-since"} & set(evaluate(sheet(made, **known)).flags))
    assert least <= caught / trials <= most


def test_the_next_sheet_starts_from_the_record_before(shop):
    late = evaluate(made := sheet(touches(0.002, np.random.default_rng(5)))).quantity("latency_s").estimate
    shop.book.sign([prepare(made, Signature("K. Amsel", "Larch", SETTER, "Tarnholm Pump Works", True))[0]])
    setup = prepared(Site.load(shop), "trigger-latency", SETTER).facts.setup
    assert (setup["before_s"], setup["before_u_s"]) == (late.value, late.u)


def test_the_program_touches_at_three_feeds_and_refuses_what_the_overtravel_forbids(shop):
    machine = shop.machine("larch")
    plan = top_touches_at(machine, "Trigger latency", "master", 140.0, dict.fromkeys(FEEDS, 5))
    assert [(t.name, t.feeds.slow_mm_min, t.first_parameter) for t in plan.touches] == [
        ("50", 50.0, 1001), ("200", 200.0, 1006), ("400", 400.0, 1011),
    ]  # fmt: skip
    with pytest.raises(NonnaError, match="too fast for this setter") as error:
        top_touches_at(machine, "Trigger latency", "master", 140.0, {9_999.0: 3})
    assert error.value.where == "setup.fast_mm_min"


def test_the_stand_in_is_found_as_late_as_it_is(shop):
    site = Site.load(shop, "larch")
    found = on_standin(site, "trigger-latency", SETTER).to_document()["results"]["latency_s"]
    assert found["value"] == pytest.approx(site.machine.trigger_latency_s, abs=1.5 * found["U"])
    assert found["U"] < 0.0005


def test_a_time_is_never_taken_for_a_length_by_the_book(shop):
    late = sheet(touches(0.002, np.random.default_rng(5)))
    signature = Signature("K. Amsel", "Larch", SETTER, "Tarnholm Pump Works", True)
    shop.book.sign([prepare(late, signature)[0]])
    entry = shop.book.entries()[-1]
    assert entry.name == "trigger-latency" and entry.value_mm is None and entry.expanded_mm is None
