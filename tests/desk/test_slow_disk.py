"""A disk that takes its time: the window stands, keys answer, nothing is lost and nothing comes too late."""

import threading

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from nonna.bench.session import shop_reader
from nonna.bench.session.sheet import open_sheet
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import commands
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.signing.event_signing import log_event
from nonna.desk.start.window_making import make_window
from nonna.shop.records.damage import NotRead
from tests.support.hands import PATIENCE, TOP, settle, shown_text, turns, worked


class Gate:
    """A function that waits until the gate is opened."""

    def __init__(self, function):
        self.thread = ""
        self.open, self.asked, self._function = threading.Event(), threading.Event(), function

    def also(self, function):
        """Hold another function up by the same gate."""
        other = Gate(function)
        other.open = self.open
        return other

    def __call__(self, *args, **kwargs):
        self.thread = threading.current_thread().name
        self.asked.set()
        assert self.open.wait(PATIENCE / 1000)
        return self._function(*args, **kwargs)


@pytest.mark.parametrize("loaded", [True, False])
def test_a_window_on_a_slow_disk_stands_there_and_fills(shop, tmp_path, qtbot, monkeypatch, loaded):
    gate = Gate(shop_reader.glanced_at)
    monkeypatch.setattr(shop_reader, "glanced_at", gate)
    monkeypatch.setattr(shop_reader, "state_of", gate.also(shop_reader.state_of))
    monkeypatch.setattr(shop_reader, "FIRST_PICTURE_S", 0.0)
    window = make_window(shop, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.show()
    window.activateWindow()
    turns()
    if loaded:  # the files came before the book
        qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    assert window.state is None and "disk is slow" in shown_text(window)
    for key in (
        Qt.Key.Key_Return,
        Qt.Key.Key_F3,
        Qt.Key.Key_F4,
        Qt.Key.Key_F10,
        Qt.Key.Key_F2,
        Qt.Key.Key_Escape,
        Qt.Key.Key_F7,
    ):
        QTest.keyClick(window.focusWidget() or window, key)
        turns()
    for command in commands():
        if command.do is not CommandId.QUIT:
            window.do(command.do)
        turns()
        QTest.keyClick(window.focusWidget() or window, Qt.Key.Key_Escape)
    assert window.state is None
    gate.open.set()
    qtbot.waitUntil(lambda: window.site is not None and window.state is not None, timeout=PATIENCE)
    settle(window)
    assert "disk is slow" not in shown_text(window) and window.state.machine == "Larch"
    window.do(CommandId.LOOP)
    settle(window)
    assert "Larch" in shown_text(window) and window.loop.stations


def test_a_sheet_thrown_away_while_its_other_master_is_read_stays_thrown_away(desk, hands, shop, monkeypatch):
    desk.open_link("setter")
    sheet = hands.sheet("Setter")
    hands.enter(TOP[0])
    keeper, c = sheet.controller.keeper, sheet.controller
    gate = Gate(open_sheet.with_master)
    monkeypatch.setattr(open_sheet, "with_master", gate)
    c.choose_master("spindle-face")
    assert gate.asked.wait(60)
    assert not c.enter(TOP[1]) and len(c.session.rows) == 1  # nothing is taken meanwhile, nothing typed is lost
    c.choose_variant("block")
    assert "still being read" in shown_text(sheet)
    desk.sheets.throw_away()
    gate.open.set()
    settle(desk)
    hands.until(
        lambda: keeper.safe and not any(work.is_alive() for work in threading.enumerate() if "Work" in work.name)
    )
    turns()
    assert not keeper.tape.place.path.exists() and len(c.session.rows) == 1 and not c.session.rows[0].struck


def test_a_sheet_left_on_a_slow_disk_is_taken_up_with_all_its_readings(desk, hands, monkeypatch):
    desk.open_link("setter")
    sheet = hands.sheet("Setter")
    first, keeper = sheet.controller, sheet.controller.keeper
    gate = Gate(keeper.tape.place.write)
    monkeypatch.setattr(keeper.tape.place, "write", gate, raising=False)
    hands.type(TOP[0])
    QTest.keyClick(hands.at, Qt.Key.Key_Return)
    assert gate.asked.wait(60) and len(sheet.controller.session.live) == 1
    desk.sheets.let_go()  # as when the window goes to another machine
    desk.open_link("setter")
    turns()
    assert desk.sheet is None and desk.sheets.opening  # it waits for what was left
    gate.open.set()
    again = hands.sheet("Setter")
    assert again.controller is not first and len(again.controller.session.live) == 1


@pytest.mark.parametrize("what", ["sheet", "event"])
def test_a_window_closed_while_something_is_signed_waits_for_it(desk, hands, shop, monkeypatch, what):
    before = len(desk.state.entries)
    gate = Gate(shop.book.sign)
    monkeypatch.setattr(type(shop.book), "sign", lambda book, bodies: gate(list(bodies)))
    if what == "sheet":
        desk.open_link("setter")
        sheet = hands.sheet("Setter")
        sheet.controller.run_standin()
        hands.until(lambda: not sheet.controller.busy)
        sheet.controller.sign()
    else:
        log_event(desk, "crash", "bumped")
    assert gate.asked.wait(60)
    desk.close()
    assert desk.isVisible() and "on its way" in shown_text(desk)
    gate.open.set()
    hands.until(lambda: not desk.isVisible())
    worked(desk)
    assert len(shop.book.entries()) == before + 1


@pytest.mark.parametrize("station", ["willow", "larch"])
def test_a_tray_shown_before_the_records_are_read_says_the_rest_later(shop, tmp_path, qtbot, monkeypatch, station):
    """The first picture looks into no record; what rests on records comes once they are there, on that thread never."""
    gate = Gate(shop_reader.look)
    monkeypatch.setattr(shop_reader, "look", gate)
    settings = DeskSettings(tmp_path / "desk.ini")
    settings.set_station(shop.root, station)
    window = make_window(shop, settings)
    qtbot.addWidget(window)
    window.show()
    qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    window.do(CommandId.TOOLS)
    qtbot.waitUntil(lambda: window.places.at(CommandId.TOOLS), timeout=PATIENCE)
    assert window.state.glanced and window.tools.model.rows
    view, c = window.tools, window.tools.controller
    for number in (t.number for t in c.tray.tools):
        view.table.go_to(number)
        turns()
    early = shown_text(view)
    with pytest.raises(NotRead):
        window.state.known.read(1)
    gate.open.set()
    settle(window)
    qtbot.waitUntil(lambda: not c.plans.busy, timeout=PATIENCE)
    assert not window.state.glanced and (station == "larch" or shown_text(view) != early)
    newest = window.state.standing.measured(window.state.kind.loop.each.procedure)[0].number
    assert window.state.known.read(newest).number == newest
    if station == "larch":
        assert c.machine.setter.trigger_plane_mm != window.site.machine.setter.trigger_plane_mm
