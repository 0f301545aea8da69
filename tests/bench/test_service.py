"""Counters of parts that wear out: counted from the event that renewed them, among the next jobs when they are due."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.book.writing import Signature
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.state import read_state
from nonna.desk.forms.finder import Finder
from nonna.desk.forms.one_line import NoteDialog
from nonna.errors import NonnaError
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.service import counters, service_jobs
from nonna.shop.links.subjects import STATION, tool
from nonna.stations.kind import kind_of
from nonna.stations.telling import job_words, reason_words
from tests.support.hands import settle, shown_dialog, shown_text

SIGNED = Signature("K. Amsel")

NOW = datetime(2026, 11, 20, 9, tzinfo=UTC)
CARD = {
    "id": "c",
    "name": "Collets",
    "part": "collet",
    "machine": "Elm",
    "since": "2026-11-01",
    "limit_changes": 3,
    "torque_nm": 60.0,
}


def events(*rows):
    return Standing(
        Entry(i + 1, "event", name, "Elm", subject, "none", NOW - timedelta(days=days), note=note)
        for i, (name, days, note, subject) in enumerate(rows)
    )


def test_days_changes_and_hours_are_counted_from_the_event_that_renewed_it():
    rows = events(
        ("hours-read", 40, "meter 1200", STATION), ("tool-regripped", 30, "", tool(1)),
        ("collet-changed", 9, "new set", STATION),
        ("tool-regripped", 5, "", tool(1)), ("tool-regripped", 4, "", tool(2)), ("hours-read", 2, "1264,5 h", STATION),
    )  # fmt: skip
    (found,) = counters([CARD], "Elm", rows, NOW)
    assert (found.days, found.changes, found.hours) == (9, 2, 64.5)
    assert found.worst == ("changes", 2.0, 3.0) and service_jobs([found]) == ()
    (full,) = counters([CARD], "Elm", Standing((*rows, *events(("tool-regripped", 1, "", tool(3)))[:])), NOW)
    assert full.changes == 2  # an event with an older number than the renewal was before it
    due = service_jobs([counters([{**CARD, "limit_changes": 2}], "Elm", rows, NOW)[0]])[0]
    assert not due.can_wait and job_words(due) == "Renew Collets" and reason_words(due.reason) == "2 of 2 changes"
    assert any("60 N m, as its maker says" in thing for thing in due.link.fetch)
    (hours,) = counters([{**CARD, "limit_changes": 0, "limit_hours": 70}], "Elm", rows, NOW)
    assert service_jobs([hours])[0].can_wait and reason_words(service_jobs([hours])[0].reason) == "64 of 70 hours"
    (days,) = counters([{**CARD, "limit_changes": 0, "limit_days": 5}], "Elm", Standing(), NOW)
    assert (days.days, days.hours) == (19, None) and reason_words(service_jobs([days])[0].reason) == "19 of 5 days"
    assert counters([CARD, {**CARD, "retired": True}], "Oak", rows, NOW) == ()


@given(limits=st.tuples(*[st.integers(0, 9)] * 3), days=st.integers(0, 30), grips=st.integers(0, 9))
def test_a_part_is_due_exactly_when_a_limit_is_reached(limits, days, grips):
    card = {
        **CARD,
        "since": (NOW - timedelta(days=days)).date().isoformat(),
        "limit_days": limits[0],
        "limit_changes": limits[1],
        "limit_hours": limits[2],
    }
    rows = events(*[("tool-regripped", 0, "", tool(1))] * grips)
    found = counters([card], "Elm", rows, NOW)[0]
    due = any(
        limit and count >= limit
        for count, limit in zip((found.days, found.changes, found.hours or 0.0), limits, strict=True)
    )
    assert any(not job.can_wait for job in service_jobs([found])) == due


@pytest.mark.parametrize("kind", ["mill", "router"])
def test_every_part_that_can_be_on_it_is_renewed_by_an_event_it_knows(kind):
    events_of = {event.name for event in kind_of(kind).loop.events}
    wanted = {
        "mill": {"collet-changed", "battery-changed", "stylus-changed"},
        "router": {"collet-changed", "clip-changed"},
    }
    assert wanted[kind] | {"hours-read"} <= events_of


def test_a_counter_is_a_card_and_stands_among_the_jobs(shop):
    with pytest.raises(NonnaError, match="since"):
        put(shop, "services", {"name": "Stylus", "part": "stylus", "machine": "Larch", "since": "yesterday"}, SIGNED)
    put(
        shop,
        "services",
        {"name": "Stylus", "part": "stylus", "machine": "Larch", "since": "2020-01-01", "limit_days": 30.0},
        SIGNED,
    )
    assert [c["name"] for c in cards(shop)["services"]][-1] == "Stylus"
    state = read_state(shop, station="larch")
    assert [job_words(job) for job in state.jobs][-1] == "Renew Stylus"
    assert "Renew Stylus" not in [job_words(job) for job in read_state(shop, station="rowan").jobs]


def test_renewing_a_part_is_logged_from_the_palette_and_begins_anew(desk, hands):
    desk.show_station("rowan")
    settle(desk)
    counter = desk.state.counters[0]
    assert counter.share > 0.9 and "Renew Collet nut" in shown_text(desk.loop)
    from nonna.desk.actions.by_command import find

    find(desk)
    finder = shown_dialog(desk, Finder)
    finder.chosen.emit("service:nut-1")
    dialog = shown_dialog(desk, NoteDialog)
    assert "62 N m, as its maker says" in shown_text(dialog)
    dialog.line.setText("new nut from the crib")
    dialog.line.returnPressed.emit()
    hands.until(lambda: desk.state.entries[-1].name == "collet-changed")
    assert desk.state.counters[0].days == 0 and "Renew Collet nut" not in shown_text(desk.loop)
