"""What must hold for any numbers: symmetries of the setter, chains of records, states of the loop, any program."""

import copy
import math
import sqlite3
from contextlib import closing
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.book.writing import Signature, event, withdrawal
from nonna.bench.sheet.signing import prepare
from nonna.metrology.doubt.quantiles import student_t
from nonna.procedures.catalogue import evaluate
from nonna.programs.language.blocks import parse
from nonna.programs.writing.writer import write
from nonna.shop.cards.machine import Tool, Tools
from nonna.shop.links.history import Entry, standing
from nonna.shop.links.judge import Facts, MasterDue, State, judge, next_jobs
from nonna.shop.links.subjects import ANY, tool
from nonna.shop.links.subjects import SETTER as THE_SETTER
from nonna.stations.mill.loop import LOOP
from nonna.stations.mill.planning.touches import setter_calibration
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import run_program
from nonna.stations.mill.standin.truth import make
from nonna.stations.telling import cause, headline, reason_words
from tests.support.documents import SETTER, TOOL
from tests.support.examples import length_plan
from tests.support.ledgers import Ledger

NOW = datetime(2026, 11, 23, 12, tzinfo=UTC)
MICRONS = st.integers(-30, 30).map(lambda v: v * 1e-4)


def setter_document(top, plus, minus, **changes):
    document = copy.deepcopy(SETTER)
    document["readings"] = [
        *({"face": "top", "position_mm": -312.4 + d} for d in top),
        *({"face": "+x", "position_mm": 735.0 + d} for d in plus),
        *({"face": "-x", "position_mm": 705.0 + d} for d in minus),
    ]
    for key, value in changes.items():
        document[key] = document.get(key, {}) | value
    return document


touches = st.lists(MICRONS, min_size=2, max_size=4, unique=True)


@given(top=touches, plus=touches, minus=touches, shift=st.floats(-100, 100))
def test_moving_the_setter_moves_its_centre_and_nothing_else(top, plus, minus, shift):
    before = evaluate(setter_document(top, plus, minus))
    moved = setter_document(top, plus, minus)
    for reading in moved["readings"]:
        if reading["face"] != "top":
            reading["position_mm"] += shift
    after = evaluate(moved)
    assert after.quantity("centre_x_mm").value == pytest.approx(before.quantity("centre_x_mm").value + shift, abs=1e-9)
    for name in ("width_x_mm", "trigger_plane_mm"):
        assert after.quantity(name).value == pytest.approx(before.quantity(name).value, abs=1e-9)
        assert after.quantity(name).estimate.u == pytest.approx(before.quantity(name).estimate.u, rel=1e-6)


@given(top=touches, plus=touches, minus=touches)
def test_looking_from_the_other_side_mirrors_the_centre(top, plus, minus):
    found = evaluate(setter_document(top, plus, minus))
    mirrored = copy.deepcopy(setter_document(top, plus, minus))
    for reading in mirrored["readings"]:
        if reading["face"] != "top":
            reading["position_mm"] = -reading["position_mm"]
            reading["face"] = {"+x": "-x", "-x": "+x"}[reading["face"]]
    other = evaluate(mirrored)
    assert other.quantity("centre_x_mm").value == pytest.approx(-found.quantity("centre_x_mm").value, abs=1e-9)
    assert other.quantity("width_x_mm").value == pytest.approx(found.quantity("width_x_mm").value, abs=1e-9)


@given(top=touches, plus=touches, minus=touches)
def test_axes_are_alike(top, plus, minus):
    document = setter_document(top, plus, minus)
    along_x = evaluate(document)
    for reading in document["readings"]:
        reading["face"] = reading["face"].replace("x", "y")
    along_y = evaluate(document)
    for name in ("centre", "width"):
        x, y = along_x.quantity(f"{name}_x_mm"), along_y.quantity(f"{name}_y_mm")
        assert (x.value, x.estimate.u, x.estimate.k) == (y.value, y.estimate.u, y.estimate.k)


@given(top=touches, plus=touches, minus=touches, factor=st.floats(1.01, 20))
def test_a_worse_master_never_lowers_the_doubt(top, plus, minus, factor):
    good = evaluate(setter_document(top, plus, minus))
    worse = setter_document(top, plus, minus)
    for name in ("U_length_mm", "U_diameter_mm", "cte_u_per_k"):
        worse["masters"]["master"][name] *= factor
    bad = evaluate(worse)
    for name in ("trigger_plane_mm", "width_x_mm"):
        assert bad.quantity(name).estimate.u > good.quantity(name).estimate.u
        assert bad.quantity(name).value == good.quantity(name).value
    assert bad.quantity("centre_x_mm").estimate.u == good.quantity("centre_x_mm").estimate.u


@given(top=touches, history=st.floats(1e-4, 0.01), dof=st.integers(1, 60))
def test_history_takes_the_place_of_the_scatter(top, history, dof):
    document = copy.deepcopy(TOOL)
    document["readings"] = [{"position_mm": -339.98 + d} for d in top]
    document["setup"] |= {"repeatability_mm": history, "repeatability_dof": dof, "resolution_mm": 0.01}
    estimate = evaluate(document).quantity("length_mm").estimate
    assert estimate.u == pytest.approx(math.hypot(max(history / math.sqrt(len(top)), 0.01 / 12**0.5), 0.0006))
    assert 1.9599 <= estimate.k <= student_t(0.975, dof) + 1e-9
    assert estimate.k1 < estimate.k


@given(top=touches, resolution=st.floats(1e-5, 0.02))
def test_a_coarser_display_never_lowers_the_doubt(top, resolution):
    document = copy.deepcopy(TOOL)
    document["readings"] = [{"position_mm": -339.98 + d} for d in top]
    plain = evaluate(document).quantity("length_mm").estimate
    document["setup"]["resolution_mm"] = resolution
    coarse = evaluate(document).quantity("length_mm").estimate
    assert coarse.expanded >= plain.expanded * (1 - 1e-9) or coarse.u >= plain.u


@given(st.permutations(SETTER["readings"]))
def test_the_order_of_readings_does_not_matter(readings):
    one, two = evaluate(SETTER).to_document(), evaluate({**SETTER, "readings": readings}).to_document()
    for name, row in one["results"].items():
        for key, value in row.items():
            assert two["results"][name][key] == (pytest.approx(value, rel=1e-6) if isinstance(value, float) else value)
    assert one["verdict"] == two["verdict"]


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(steps=st.lists(st.sampled_from(["measure", "event", "withdraw"]), min_size=2, max_size=8), data=st.data())
def test_any_history_verifies_until_somebody_touches_it(tmp_path_factory, steps, data):
    path = tmp_path_factory.mktemp("chain") / "ledger.sqlite"
    book = Ledger(path)
    who = Signature("K. Amsel", "Larch", tool(2))
    for i, step in enumerate(steps):
        if step == "measure":
            book.add(prepare(TOOL, who)[0])
        else:
            book.add(event("crash", who, "note") if step == "event" else withdrawal(max(1, i), who, "why"))
    assert book.verify().sound
    assert [e.number for e in Ledger(path).entries()] == list(range(1, len(steps) + 1))
    target = data.draw(st.integers(1, len(steps)))
    column = data.draw(st.sampled_from(["body", "operator", "signed_at", "subject", "note", "previous", "hash"]))
    with closing(sqlite3.connect(path)) as db:
        db.execute("DROP TRIGGER records_no_update")
        db.execute(f"UPDATE records SET {column} = {column} || 'x' WHERE number = ?", (target,))
        db.commit()
    check = book.verify()
    assert (check.sound, check.first_damaged) == (False, target)


SUBJECTS = {link.procedure: tool(2) if link.subject == ANY else link.subject for link in LOOP.links}
kinds = st.sampled_from(
    [("measurement", link.procedure) for link in LOOP.links if link.procedure]
    + [("event", e.name) for e in LOOP.events]
)
moments = st.lists(
    st.tuples(kinds, st.floats(0, 60), st.sampled_from(["pass", "pass", "pass", "fail", "undecided", "none"])),
    max_size=12,
)


@given(moments)
def test_the_loop_is_judged_soberly_whatever_happened(rows):
    rows = sorted(rows, key=lambda row: -row[1])
    history = [
        Entry(i, kind, name, "Larch", SUBJECTS.get(name, THE_SETTER), verdict, NOW - timedelta(days=days))
        for i, ((kind, name), days, verdict) in enumerate(rows, 1)
    ]
    found = judge(
        Facts(LOOP, standing(history, "Larch"), [tool(2)], {"master-tool": MasterDue("m", date(2027, 6, 1), "m")}, NOW)
    )
    by_key = {s.link.key: s for s in found}
    for state in found:
        lost = [by_key[up] for up in LOOP.upstream(state.link.key) if by_key[up].state in (State.BROKEN, State.NEVER)]
        if lost:
            assert state.state in (State.BROKEN, State.NEVER)
        if state.state is State.HOLDS and state.link.procedure:
            last = max(e.number for e in history if e.kind == "measurement" and e.name == state.link.procedure)
            chain = {state.link.key, *LOOP.upstream(state.link.key)}
            assert not any(
                e.kind == "event" and e.number > last and LOOP.event(e.name).breaks & (chain - {"ring"})
                for e in history
            )
            assert next(e for e in history if e.number == last).verdict in ("pass", "none")
        assert reason_words(state.reason)
    jobs = next_jobs(found)
    order = [link.key for link in LOOP.links]
    assert [order.index(job.link.key) for job in jobs] == sorted(order.index(job.link.key) for job in jobs)
    assert {s.link.key for s in found if s.state is not State.HOLDS} == {job.link.key for job in jobs}
    assert headline(found).endswith(".")
    assert cause(found)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    length=st.floats(20, 300),
    diameter=st.floats(4, 40),
    seed=st.integers(0, 1000),
    top=st.integers(1, 5),
    side=st.integers(0, 3),
)
def test_every_calibration_program_runs_without_a_stop(practice, length, diameter, seed, top, side):
    machine = ShopFolder(practice).machine("larch")
    plan = setter_calibration(machine, length, diameter, top, side)
    held = Tool(number=999, kind="master", diameter_mm=diameter, length_mm=length)
    text = write(plan)
    assert parse(text)
    mill = Mill(machine, make(machine, [], seed, held), Tools(format="nonna-tools/1", tools=[]), seed)
    report = run_program(text, plan, mill)
    assert len(report.results) == top + 4 * side
    assert mill.position[2] == machine.tool_change_z_mm
    assert {c.face for c in report.contacts} == ({"+z", "+x", "-x", "+y", "-y"} if side else {"+z"})


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(length=st.floats(20, 300), off=st.floats(-1, 1), doubt=st.floats(0.01, 20), seed=st.integers(0, 500))
def test_any_true_length_inside_the_window_is_found_and_no_rapid_touches(practice, length, off, doubt, seed):
    machine = ShopFolder(practice).machine("larch")
    true = length + off * doubt
    tool = Tool(
        number=7,
        kind="drill",
        diameter_mm=6,
        length_mm=length,
        true_length_mm=max(true, 1.0),
        length_uncertainty_mm=doubt,
    )
    plan = length_plan(machine, [tool])
    table = Tools(format="nonna-tools/1", tools=[tool])
    report = run_program(write(plan), plan, Mill(machine, make(machine, [tool], seed), table, seed))
    for _, position in report.results:
        assert position + 452.4 == pytest.approx(true, abs=0.15)  # the truth's plane is a little off its papers


@given(data=st.data())
def test_withdrawals_hide_exactly_what_they_name(data):
    count = data.draw(st.integers(1, 8))
    history = [Entry(i, "measurement", "tool-length", "Larch", tool(2), "pass", NOW) for i in range(1, count + 1)]
    gone = data.draw(st.sets(st.integers(1, count)))
    history += [
        Entry(count + i, "withdrawal", "withdrawal", "Larch", "", "none", NOW, refers_to=n)
        for i, n in enumerate(sorted(gone), 1)
    ]
    assert {e.number for e in standing(history, "Larch")} == set(range(1, count + 1)) - gone
