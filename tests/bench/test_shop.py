"""Links, events, due dates, entries typed by tired people."""

import json
import sqlite3
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nonna.adapters.shop_files import practice
from nonna.adapters.store.sqlite.store import SqliteStore
from nonna.bench.book.glance import minutes
from nonna.bench.sheet.opening import open_sheet
from nonna.bench.station.site import Site
from nonna.bench.station.weakest import weakest
from nonna.bench.tables.tool_table import csv_text, rows
from nonna.errors import NonnaError
from nonna.procedures.doubt import doubted
from nonna.procedures.entry import parse_length
from nonna.procedures.facts import SheetFacts
from nonna.procedures.session import Session
from nonna.shop.cards.seen import ToolSeen
from nonna.shop.links.history import Entry, Standing, standing
from nonna.shop.links.judge import Facts, MasterDue, State, judge, next_jobs
from nonna.shop.links.subjects import ANY, DAILY_CHECK, SETTER, SubjectKind, master, tool
from nonna.shop.texts.given import Given
from nonna.stations.kind import kind_of
from nonna.stations.mill.loop import LOOP
from nonna.stations.telling import cause, headline, reason_words
from nonna.wording.lengths import Units, length, number, small, with_doubt
from nonna.wording.saying import tell
from tests.support.documents import START
from tests.support.ledgers import Ledger

NOW = datetime(2026, 11, 23, 12, tzinfo=UTC)


def entry(number, name, subject=SETTER, days=1.0, kind="measurement", verdict="pass", **more):
    return Entry(
        number, kind, name, "Larch", subject, verdict, NOW - timedelta(days=days), "K. Amsel", 1.0, 0.001, **more
    )


def usual(link):
    return tool(2) if link.subject == ANY else link.subject


MEASURED = [link for link in LOOP.links if link.procedure]
GOOD = tuple(entry(i, link.procedure, usual(link)) for i, link in enumerate(MEASURED, 1))
LAST = len(GOOD)
MASTER = MasterDue("Master tool", date(2027, 6, 1), "mt")
RING = MasterDue("Ring", date(2027, 6, 1), "r1")
SETTER_AT = next(i for i, link in enumerate(MEASURED) if link.key == "setter")


TOOLS = (tool(2),)


def states(*rows_, master=MASTER, ring=RING, tools=TOOLS):
    masters = {kind: m for kind, m in (("master-tool", master), ("ring", ring)) if m}
    return {s.link.key: s for s in judge(Facts(LOOP, Standing(rows_), tools, masters, NOW))}


def good_but(key, **more):
    """All links measured, one of them otherwise than well."""
    return tuple(
        entry(i, link.procedure, usual(link), **(more if link.key == key else {})) for i, link in enumerate(MEASURED, 1)
    )


def words(*rows_, **more):
    return {key: s.state.value for key, s in states(*rows_, **more).items()}


def test_a_fresh_loop_holds_and_an_empty_one_was_never_done():
    found = states(*GOOD)
    assert {s.state for s in found.values()} == {State.HOLDS}
    assert headline(list(found.values())) == "The loop is closed: every link holds."
    assert next_jobs(list(found.values())) == ()
    assert cause(list(found.values())) == "Nothing to do."
    empty = states(master=None, ring=None)
    assert {s.state for s in empty.values()} == {State.NEVER}
    assert [job.link.key for job in next_jobs(list(empty.values()))] == [link.key for link in MEASURED]


@pytest.mark.parametrize("event", [e for e in LOOP.events if e.by_hand], ids=lambda e: e.name)
def test_each_event_breaks_its_links_and_all_below(event):
    found = words(*GOOD, entry(LAST + 1, event.name, days=0.5, kind="event"))
    for link in LOOP.links:
        if event.name == "master-recalled":
            continue  # says which master: a test of its own
        hit = link.key in event.breaks or any(up in event.breaks for up in LOOP.upstream(link.key))
        assert (found[link.key] == "broken") is hit, link.key


def test_mending_in_order_closes_the_loop_again():
    knocked = (*GOOD, entry(LAST + 1, "setter-knocked", days=0.5, kind="event"))
    found = list(states(*knocked).values())
    assert cause(found).startswith("Setter knocked")
    assert "tools" in cause(found)
    assert "it broke level, setter. What hangs on it: length, closure, proof, tools." in cause(found)
    rows_ = knocked
    for i, job in enumerate(next_jobs(found)):
        assert words(*rows_)[job.link.key] == "broken"
        subject = usual(job.link)
        rows_ = (*rows_, entry(LAST + 2 + i, job.link.procedure, subject, days=0.2))
        assert words(*rows_)[job.link.key] == "holds"
    assert set(words(*rows_).values()) == {"holds"}


def test_a_recalled_master_breaks_what_rests_on_it_until_it_comes_back():
    recall = entry(LAST + 1, "master-recalled", master("r1"), days=0.5, kind="event")
    found = words(*GOOD, recall)
    assert (found["master"], found["ring"], found["proof"], found["setter"]) == ("holds", "broken", "broken", "holds")
    back = (*GOOD, recall, entry(LAST + 2, "master-calibrated", master("r1"), days=0.3, kind="event"))
    assert words(*back)["ring"] == "holds"
    assert words(*GOOD, entry(LAST + 1, "master-recalled", master("mt"), kind="event"))["master"] == "broken"
    assert words(*GOOD, entry(LAST + 1, "master-recalled", master("other"), kind="event"))["master"] == "holds"
    assert words(*GOOD, ring=MasterDue("Ring", NOW.date() - timedelta(days=1), "r1"))["ring"] == "broken"


def test_a_failing_daily_check_trips_the_setter_and_all_below():
    found = states(*GOOD, entry(LAST + 1, "artefact-check", DAILY_CHECK, days=0.1, verdict="fail"))
    assert {key for key, s in found.items() if s.state is State.BROKEN} == {
        "setter", "probe", "closure", "proof", "tools",
    }  # fmt: skip
    assert found["setter"].reason.code == "loop.check-failed"
    assert reason_words(found["setter"].reason).startswith("daily check failed")
    assert set(words(*GOOD, entry(LAST + 1, "artefact-check", DAILY_CHECK, days=0.1)).values()) == {"holds"}


def test_minutes_are_learned_from_ones_own_times(shop):
    learned = {"setter-calibration": 11.0}
    jobs = {
        job.link.key: job.minutes
        for job in next_jobs(list(states(*good_but("setter", verdict="fail")).values()), learned)
    }
    assert jobs["setter"] == 11.0
    assert minutes(SqliteStore(shop.ledger), "Larch") == {}  # the demo's readings and signatures bear one time
    with sqlite3.connect(shop.ledger) as db:
        db.execute("DROP TRIGGER records_no_update")
        db.execute(
            "UPDATE records SET body = json_set(body, '$.tape[0].at', ?) WHERE name = 'setter-calibration'",
            ("2020-01-01T00:00:00+00:00",),
        )
    assert minutes(SqliteStore(shop.ledger), "Larch") == {}  # years are not minutes


def test_an_event_on_one_tool_leaves_the_others():
    two = (*GOOD, entry(LAST + 1, "tool-length", tool(3)))
    found = states(*two, entry(LAST + 2, "tool-regripped", tool(3), days=0.1, kind="event"), tools=(tool(2), tool(3)))
    assert dict(found["tools"].subjects) == {tool(2): State.HOLDS, tool(3): State.BROKEN}


def test_a_withdrawn_event_counts_no_more():
    crash = entry(LAST + 1, "crash", kind="event")
    rows_ = (*GOOD, crash, entry(LAST + 2, "withdrawal", kind="withdrawal", refers_to=LAST + 1))
    assert set(words(*standing(rows_, "Larch")).values()) == {"holds"}
    assert standing(rows_, "Rowan") == ()
    assert Standing(rows_).latest("tool-length", tool(9)) is None


@pytest.mark.parametrize(("days", "word"), [(1, "holds"), (22, "holds"), (23.5, "due"), (30, "due"), (45, "due")])
def test_age_makes_a_link_due(days, word):
    found = states(*good_but("setter", days=days))
    assert found["setter"].state.value == word
    jobs = next_jobs(list(found.values()))
    assert [job.can_wait for job in jobs] == ([days <= 30] if word == "due" else [])


@pytest.mark.parametrize(("left", "word"), [(200, "holds"), (21, "due"), (0, "due"), (-1, "broken")])
def test_a_masters_certificate_runs_out(left, word):
    found = words(*GOOD, master=MasterDue("m", NOW.date() + timedelta(days=left)))
    assert found["master"] == word
    assert found["setter"] == ("broken" if word == "broken" else "holds")


def test_a_failed_or_open_verdict_does_not_hold():
    assert words(*good_but("setter", verdict="fail"))["tools"] == "broken"
    assert words(*good_but("setter", verdict="undecided"))["setter"] == "due"


def test_the_demo_shop_has_something_true_to_show(shop):
    site = Site.load(shop)
    every = Ledger(shop.ledger).entries()
    due = date.fromisoformat(site.shelf.masters[0].due)
    tools = [t.subject for t in site.tools]
    masters = {"master-tool": MasterDue("m", due)}
    found = {s.link.key: s.state for s in judge(Facts(LOOP, Standing(every), tools, masters, START))}
    assert {key for key, state in found.items() if state is State.HOLDS} == {"repeatability", "runout", "ring"}
    assert found["master"] is State.DUE
    assert {state for key, state in found.items() if LOOP.link(key).hangs_on} == {State.BROKEN, State.HOLDS}
    assert 150 <= (every[-1].signed_at - every[0].signed_at).days <= 200
    planes = [e.value_mm for e in every if e.name == "setter-calibration"]
    assert max(planes) - min(planes) > 0.005
    worst = weakest(kind_of("mill"), every, Ledger(shop.ledger).reader())
    assert worst is not None
    assert 0 < worst.share <= 1
    assert worst.halved_mm < worst.expanded_mm


def test_a_sheet_opens_with_all_that_is_known(shop):
    site = Site.load(shop)
    opening = open_sheet(site, "tool-length", tool(9))
    calibration = site.standing().latest("setter-calibration")
    assert opening.facts.setup["trigger_plane_mm"] == calibration.value_mm
    assert opening.carried["setup.trigger_plane_mm"].record == calibration.number
    assert opening.facts.setup["expected_mm"] == 71.888
    assert opening.facts.setup["repeatability_dof"] == 9
    other = open_sheet(site, "setter-calibration", SETTER, "spindle-face")
    assert (other.facts.variant, other.facts.masters["master"]["length_mm"]) == ("spindle-face", 0.0)
    shop.ledger.unlink()
    with pytest.raises(NonnaError, match="Setter calibration comes first"):
        open_sheet(site, "tool-length", tool(9))


def test_damaged_shop_files_are_named(shop):
    path = shop.root / "machines" / "larch.json"
    whole = json.loads(path.read_text())
    for bad, code in ((whole | {"colour": 1}, "unknown-field"), (whole | {"max_rpm": "fast"}, "not-a-number")):
        path.write_text(json.dumps(bad))
        with pytest.raises(NonnaError, match=r"machines/larch\.json") as caught:
            shop.machine("larch")
        assert caught.value.code == code
    path.write_text(json.dumps(whole)[:99])
    with pytest.raises(NonnaError, match=r"machines/larch\.json"):
        shop.machine("larch")


def test_the_tool_table_keeps_what_was_not_measured(shop):
    every = Ledger(shop.ledger).entries()
    site = Site.load(shop)
    link = judge(Facts(LOOP, Standing(every), [tool(2), tool(4)], {"master-tool": MASTER}, NOW))[-1]
    table = rows([ToolSeen.of(Given(t.model_dump())) for t in site.tools], Standing(every), link)
    assert all(row.was == tool.length_mm for row, tool in zip(table, site.tools, strict=True))
    lines = csv_text(table).splitlines()
    assert lines[0].startswith("tool,description,length_mm")
    assert all(line.endswith("kept") for line in lines[1:])


@pytest.mark.parametrize(
    ("text", "units", "mm"),
    [
        ("12.5", Units.MM, 12.5),
        ("-312.4051", Units.MM, -312.4051),
        ("−3", Units.MM, -3),
        ("0.2in", Units.MM, 5.08),
        ("3 thou", Units.MM, 0.0762),
        ("5um", Units.MM, 0.005),
        ("5 µm", Units.INCH, 0.005),
        ("1", Units.INCH, 25.4),
        ("1 mm", Units.INCH, 1.0),
        ('2"', Units.MM, 50.8),
        ("12,5", Units.MM, 12.5),
        (".5", Units.MM, 0.5),
        (" 7 ", Units.MM, 7),
        ("2 cm", Units.MM, 20),
    ],
)
def test_lengths_are_understood_with_their_unit(text, units, mm):
    assert parse_length(text, units) == pytest.approx(mm)


@pytest.mark.parametrize(
    "text", ["", "abc", "1..2", "1,2,3", "12 parsec", "1e5", "--3", "5 %", "1,234.5", "3 second", "9999999"]
)
def test_what_is_no_length_is_said_to_be_none(text):
    with pytest.raises(NonnaError) as caught:
        parse_length(text, Units.MM)
    assert caught.value.where == "entry"


@given(st.text(max_size=12) | st.from_regex(r"[+-]?[0-9]{1,4}(\.[0-9]+)?[a-z]{0,9}", fullmatch=True))
@example("1nan").via("a unit that the library reads as a number")
@example("1dimensionless").via("a unit that is no length")
def test_whatever_is_typed_is_a_length_or_refused_in_words(text):
    try:
        assert abs(parse_length(text, Units.MM)) <= 1e6
    except NonnaError as error:
        assert error.where == "entry"


def question(value, expected, units):
    """Ask of a reading of a tool that is expected to trigger there; of one of which nothing is known."""
    setup = {} if expected is None else {"trigger_plane_mm": expected - 100.0, "expected_mm": 100.0}
    return doubted(Session("tool-length", SheetFacts(setup=setup)), value, units)


@given(value=st.floats(20, 500), sign=st.sampled_from([1, -1]), off=st.floats(-0.2, 0.2))
def test_a_unit_slip_is_questioned_and_a_good_reading_is_not(value, sign, off):
    expected = sign * value
    assert question(expected + off, expected, Units.MM) is None
    slip = question((expected + off) / 25.4, expected, Units.MM)
    assert slip is not None
    assert slip.suggestion_mm == pytest.approx(expected + off)
    assert question((expected + off) * 25.4, expected, Units.MM).suggestion_mm == pytest.approx(expected + off)
    assert question(expected * 10, expected, Units.MM).suggestion_mm == pytest.approx(expected)  # a decimal point
    assert question(-expected, expected, Units.MM).suggestion_mm == pytest.approx(expected)
    far = question(expected * 1.7, expected, Units.MM)
    assert far is not None and far.suggestion_mm is None
    assert question(expected, None, Units.MM) is None


def test_numbers_are_written_with_the_digits_that_mean_something():
    assert number(-0.00001, 3) == "0.000"
    assert length(-312.40512, Units.MM) == "−312.4051 mm"
    assert length(25.4, Units.INCH) == "1.00000 in"
    assert small(0.00143, Units.MM) == "1.4 µm"
    assert small(-0.0254, Units.INCH, sign=True) == "−1000 µin"
    assert with_doubt(-312.40512, 0.00143, Units.MM) == "−312.4051 ± 0.0014 mm"
    assert tell("{a:length} {b:signed}", {"a": 1.0, "b": 0.002}, Units.INCH) == "0.03937 in +79 µin"
    assert Units.MM.other == Units.INCH
    coarse = Units("inch", coarse=True)
    assert (length(25.4, coarse), length(-312.40512, coarse.other)) == ("1.0000 in", "−312.405 mm")
    assert coarse.fine == Units.INCH and small(0.00143, coarse.other) == "1.4 µm"


def test_a_practice_shop_is_made_of_the_kinds_there_are(tmp_path, monkeypatch):
    monkeypatch.setattr(practice, "known_kinds", lambda: ("mill", "router", "lathe"))
    folder = practice.make(tmp_path / "shop")
    assert folder.shop().machines == ["larch", "rowan", "willow"] and folder.book.verify().sound
    assert not any(record.subject.kind is SubjectKind.PRESETTER for record in folder.book.all())
