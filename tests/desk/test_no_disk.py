"""The thread that paints touches neither the shop's files nor its book: whatever a disk is doing, the keys answer."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QDialog

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.shelf.shelving import cards
from nonna.bench.station.site import Site
from nonna.desk.actions.by_command import carry_out, put_card
from nonna.desk.commands.ids import CommandId
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.start.window_making import make_window
from nonna.desk.tray.by_command import save_program
from nonna.desk.tray.tables_in import read_table
from nonna.shop.links.subjects import Subject
from tests.support.disk_watch import disk_watched
from tests.support.hands import PATIENCE, Hands, settle, worked
from tests.support.instruments import listen


@pytest.fixture
def watch(shop):
    with disk_watched(shop.root) as seen:
        yield seen
    assert seen.seen == []


def closed(window):
    """Close every dialog."""
    worked(window)
    for dialog in window.findChildren(QDialog):
        dialog.reject()
    settle(window)


def test_the_watch_sees_what_the_desk_does_there(shop):
    with disk_watched(shop.root) as seen:
        found = "desk/x.py"
        code = compile("Site.load(shop)", f"/nonna/{found}", "exec")
        exec(code, {"Site": Site, "shop": shop})
        exec(compile("shop.book.sign([])", f"/nonna/{found}", "exec"), {"shop": shop})
    assert any(row.startswith("open shop.json") for row in seen.seen) and any("stat" in row for row in seen.seen)
    assert any(row.startswith("sql") or "sqlite3" in row for row in seen.seen)


def test_from_the_start_through_sheets_and_book(shop, tmp_path, qtbot, watch):
    """A window is opened, links are measured, turned, signed, done another way, thrown away, brought back, left."""
    window = make_window(ShopFolder(shop.root), DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    at = Hands(window, qtbot)
    at.mend("level", "setter")
    window.open_link("setter")
    sheet = at.sheet("Setter")
    at.enter("-312.4010")
    sheet.toggle_setup()
    sheet.controller.choose_master("spindle-face")
    settle(window)
    at.enter("-312.4010")
    sheet.controller.undo()
    window.sheets.throw_away()
    settle(window)
    window.sheets.bring_back()
    settle(window)
    window.open_link("level")
    at.sheet("Setter").controller.choose_variant("grid")
    settle(window)
    window.open_sheets([("tip-runout", Subject.of("Probe"))], CommandId.LOOP)
    sheet = at.sheet("Probe")
    sheet.controller.go_live("")
    at.until(lambda: sheet.controller.dial.value_mm is not None)
    sheet.controller.stop_live()
    for place in (CommandId.BOOK, CommandId.SHELF, CommandId.LOOP):
        window.do(place)
        settle(window)
    for do in (
        CommandId.FIND,
        CommandId.WHAT_IF,
        CommandId.OPERATOR,
        CommandId.MACHINE,
        CommandId.HELP,
        CommandId.SETTINGS,
        CommandId.WEAR,
        CommandId.ASK_MACHINE,
    ):
        carry_out(window, do)
        closed(window)
    window.show_units()
    window.look_again()
    settle(window)
    for station in ("willow", "larch"):
        window.show_station(station)
        settle(window)
    window.close()
    window.close()
    worked(window)


def test_the_tray_and_its_dialogs(desk, hands, shop, tmp_path, qtbot, watch):
    """Tools are changed, marked, planned, measured, accepted, taken in and written; every dialog is opened."""
    hands.mend("level", "setter")
    hands.press(Qt.Key.Key_F3)
    view = desk.tools
    c = view.controller
    hands.until(lambda: not c.plans.busy and c.answer is not None)
    for key in (Qt.Key.Key_Down, Qt.Key.Key_Space, Qt.Key.Key_B, Qt.Key.Key_D, Qt.Key.Key_Delete):
        QTest.keyClick(view.table, key)
        settle(desk)
    c.undo()
    settle(desk)
    for do in (CommandId.TRAY_LENGTHS, CommandId.TRAY_CHECKS, CommandId.TRAY_FEEDS, CommandId.TRAY_WAYS,
        CommandId.TRAY_JOB, CommandId.TRAY_PIECE, CommandId.TRAY_GRID,
               CommandId.TRAY_EDIT, CommandId.TRAY_ADD, CommandId.TRAY_TOUCH, CommandId.TRAY_REHEARSAL):  # fmt: skip
        carry_out(desk, do)
        closed(desk)
    carry_out(desk, CommandId.TRAY_REHEARSAL)
    settle(desk)
    save_program(desk, tmp_path / "out.ngc")
    table = tmp_path / "list.csv"
    with watch.looking_away():
        table.write_text("Number,Kind,Diameter,Length\n60,drill,5.0,80.0\n")
    read_table(desk, table)
    worked(desk)
    for dialog in desk.findChildren(QDialog):
        for box in dialog.findChildren(QComboBox):
            assert box.count()
        dialog.submit()
    worked(desk)
    hands.until(lambda: not c.plans.busy and c.answer is not None)
    c.measure_on_standin()
    hands.until(lambda: not c.busy)
    c.accept()
    hands.until(lambda: not c.busy)
    settle(desk)
    if "alder" in shop.shop().machines:
        listen(desk, hands, 2, 3)
        hands.until(lambda: c.arrivals.now is None and len(c.tray.results) > 20)
        c.accept()
        hands.until(lambda: not c.busy)
        settle(desk)
    desk.do(CommandId.SHELF)
    settle(desk)
    with watch.looking_away():
        card = cards(shop)["probes"][0]
    put_card(desk, "probes", {**card, "ball_mm": 5.0})
    closed(desk)
    desk.open_sheets([("tool-length", Subject.of("T2"))], CommandId.TOOLS)
    hands.sheet("T2")
    hands.standin()
    hands.enter()
    hands.enter()


def test_a_lathe_and_a_router(desk, hands, watch):
    for station, link in (("willow", "arm"), ("rowan", "plate")):
        desk.show_station(station)
        settle(desk)
        hands.press(Qt.Key.Key_F3)
        settle(desk)
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Space):
            QTest.keyClick(desk.tools.table, key)
            settle(desk)
        for do in (CommandId.TRAY_LENGTHS, CommandId.WEAR, CommandId.TRAY_EDIT):
            carry_out(desk, do)
            closed(desk)
        hands.press(Qt.Key.Key_F2)
        desk.open_link(link)
        sheet = hands.sheet()
        hands.standin()
        assert sheet.controller.session.live
        sheet.controller.sign()
        settle(desk)
        assert sheet.controller.receipt is not None
        sheet.back()
        settle(desk)
