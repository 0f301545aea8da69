"""A day's work on a session alone: no window, no thread, no event loop."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nonna.bench.session.signals import Signal
from nonna.errors import NonnaError
from nonna.procedures.session import SetupField
from nonna.shop.links.judge import State
from nonna.wording.lengths import Units
from tests.support.at_once import Remembered, Stage


@pytest.fixture
def stage(shop):
    """A session on a copy of the demo shop, loaded."""
    stage = Stage(shop, Remembered(Units.MM))
    session = stage.session
    assert session.begin() and session.state.glanced
    session.look_again()
    session.take(session.state.site)
    return stage


def opened(stage, link):
    stage.session.open_link(link, "tools", "shelf")
    stage.front.turn()
    return stage.session.sheets.current


def state_of(stage, link):
    return next(each.state for each in stage.session.state.links if each.link.key == link)


def test_a_link_is_mended_from_the_first_key_to_the_loop(stage):
    session = stage.session
    before = len(session.state.entries)
    sheet = opened(stage, "level")
    assert stage.seen is sheet and not sheet.unsigned
    sheet.run_standin()
    while sheet.picture().again:
        sheet.enter("")
    assert sheet.unsigned and sheet.keeper.safe and sheet.keeper.holds
    assert sheet.enter("") and sheet.receipt.number == before + 1
    assert not sheet.keeper.holds and not session.sheets.unsigned
    assert sheet.enter("") and session.sheets.current is None and stage.pages == []
    assert len(session.state.entries) == before + 1 and state_of(stage, "level") is State.HOLDS


def test_what_is_doubted_is_asked_and_what_is_insisted_on_is_noted(stage):
    sheet = opened(stage, "probe")
    told = []
    sheet.said.connect(lambda words, tone: told.append(words))
    sheet.enter("")
    assert sheet.session.rows == () and "reading" in told[-1]
    sheet.run_standin()
    first = sheet.session.live[0].needed("position_mm")
    sheet.undo()
    assert sheet.enter(f"{first}") and not sheet.enter(f"{first + 9.0}")
    assert sheet.question is not None and len(sheet.session.rows) == 1
    assert sheet.correct() and sheet.question is None
    assert not sheet.enter(f"{first + 9.0}") and sheet.take_as_typed()
    assert sheet.session.rows[-1].doubted


def test_sheets_wait_come_back_and_are_thrown_away(stage):
    session = stage.session
    first = opened(stage, "probe")
    first.run_standin()
    second = opened(stage, "level")
    assert session.sheets.current is second and first in session.sheets.all and "readings" in session.sheets.waiting
    session.sheets.leave()  # an empty one is closed
    assert session.sheets.all == (first,) and session.sheets.show() and stage.seen is first
    session.sheets.throw_away()
    assert session.sheets.all == () and stage.seen is None and session.sheets.bring_back() and stage.seen is first
    assert len(first.session.live) >= 3 and not session.may_close() and session.may_close()  # said once, then let go


def test_another_station_is_shown_and_what_was_left_waits_on_its_own(stage, shop):
    session = stage.session
    sheet = opened(stage, "probe")
    sheet.run_standin()
    rows = sheet.session.rows
    session.move_to(shop, "rowan")
    assert session.machine_name == "Rowan" and session.sheets.all == () and "Left unsigned" in stage.told[-1][0]
    assert session.remembered.station(shop.root) == "rowan" and session.remembered.shops == []  # an invented shop
    session.move_to(shop, "larch")
    assert opened(stage, "probe").session.rows == rows
    session.move_to(shop, "birch")
    assert session.machine_name == "Larch" and "not opened" in stage.told[-1][0]


def test_marked_tools_are_planned_measured_and_signed(stage):
    session = stage.session
    for link in ("level", "setter"):
        sheet = opened(stage, link)
        sheet.run_standin()
        while sheet.picture().again:
            sheet.enter("")
        sheet.enter("")
        sheet.enter("")
    tray = session.open_tray()
    tray.load_from_site()
    tray.change(tray.tray.with_marks([2, 9]))
    assert tray.plans.busy and tray.answer is None
    stage.front.turn()
    assert tray.answer.plan.trial.rehearsal.problems == () and not tray.plans.busy
    before = len(session.state.entries)
    tray.measure_on_standin()
    assert {row.subject.id for row in tray.tray.results} == {"T2", "T9"} and not session.may_close()
    tray.accept()
    assert tray.tray.results == () and len(session.state.entries) == before + 2 and session.may_close()


def test_a_clock_that_is_off_is_asked_about_and_nothing_is_signed_unasked(stage, monkeypatch):
    session = stage.session
    sheet = opened(stage, "probe")
    sheet.run_standin()
    number, refused = len(session.state.entries), []

    def off(folder, bodies):
        if not refused:
            refused.append(bodies)
            raise NonnaError("out-of-range", "The clock is years ahead.", "signed_at")
        return was(folder, bodies)

    from nonna.bench.session.sheet import open_sheet

    was = open_sheet.sign
    monkeypatch.setattr(open_sheet, "sign", off)
    sheet.sign()
    words, yes, no = stage.front.asked[-1]
    assert sheet.receipt is None and "years ahead" in words and not sheet.signer.busy
    no()
    assert sheet.receipt is None and sheet.unsigned
    yes()
    assert sheet.receipt.number == number + 1


def test_a_field_changed_by_hand_is_carried_again_once_that_is_undone(stage):
    sheet = opened(stage, "probe")
    name, came = next((field, row) for field, row in sheet.opening.carried.items() if field == "setup.surface_mm")
    sheet.set_field(SetupField("surface_mm"), 1.25)
    assert name not in sheet.opening.carried and sheet.session.facts.setup.number("surface_mm") == 1.25
    sheet.undo()
    assert sheet.opening.carried[name] == came and sheet.session.facts.setup.number("surface_mm") != 1.25
    sheet.redo()
    assert name not in sheet.opening.carried


ACTS = st.lists(st.sampled_from(["take", "strike", "undo", "redo"]), max_size=25)


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(acts=ACTS)
def test_undo_and_redo_are_the_ways_there_and_back(stage, acts):
    sheet = opened(stage, "probe") or stage.session.sheets.current
    while sheet.history.can_undo:
        sheet.undo()
    sheet.history.clear()
    done, undone = [sheet.session.rows], []
    for act in acts:
        live = [i for i, row in enumerate(sheet.session.rows) if not row.struck]
        if act == "take":
            sheet._take(121.5)
        elif act == "strike" and live:
            assert sheet.strike(live[-1], "chip")
        elif act == "undo":
            if len(done) > 1:
                undone.append(done.pop())
            sheet.undo()
        elif act == "redo":
            if undone:
                done.append(undone.pop())
            sheet.redo()
        if act in ("take", "strike") and sheet.session.rows != done[-1]:
            done.append(sheet.session.rows)
            undone.clear()
        assert sheet.session.rows == done[-1]
        assert sheet.keeper.holds is bool(sheet.session.rows)


def test_who_hears_of_something_is_told_in_order_and_kept_alive_by_nobody():
    told, signal = [], Signal()

    class Ear:
        def hear(self, what):
            told.append(("ear", what))

    ear = Ear()
    signal.connect(ear.hear)
    signal.connect(lambda what: told.append(("function", what)))
    signal.emit(1)
    del ear
    signal.emit(2)
    signal.disconnect()
    signal.emit(3)
    assert told == [("ear", 1), ("function", 1), ("function", 2)]
