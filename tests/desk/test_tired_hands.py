"""Tired hands, two windows, held keys, small screens: nothing is signed wrongly and nothing is lost."""

import json
from dataclasses import replace

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QLabel, QPushButton, QScrollArea

from nonna.bench.book.writing import Signature
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.site import Site
from nonna.bench.tray.table_change import TableChange
from nonna.desk.actions.by_command import open_shop
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.finder import Finder
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.signing.event_signing import log_event
from nonna.desk.start.window_making import make_window
from nonna.errors import NonnaError
from nonna.procedures.session import SetupField
from nonna.shop.links.subjects import Subject
from nonna.shop.records.text import body_of
from nonna.stations.branch import NOTE
from nonna.stations.mill.loop import LOOP
from nonna.stations.telling import headline
from tests.support.hands import PATIENCE, SIDES, TOP, record_of, settle, shown_dialog, shown_text
from tests.support.ledgers import Ledger

SIGNED = Signature("K. Amsel")


@pytest.fixture
def two(shop):
    """A shop with two machines."""
    machine = {**shop.document("machines", "larch.json"), "name": "Rowan"}
    shop.root.joinpath("machines", "rowan.json").write_text(json.dumps(machine))
    shop.root.joinpath("tools", "rowan.json").write_text(shop.root.joinpath("tools", "larch.json").read_text())
    shop.root.joinpath("shop.json").write_text(
        json.dumps({**shop.document("shop.json"), "machines": ["larch", "rowan"]})
    )
    return shop


def held_down(widget, key=Qt.Key.Key_Return, times=30):
    """Hold a key: one press, then repeats."""
    for i in range(times):
        QApplication.sendEvent(
            widget, QKeyEvent(QEvent.Type.KeyPress, key, Qt.KeyboardModifier.NoModifier, "\r", i > 0)
        )
    QApplication.sendEvent(widget, QKeyEvent(QEvent.Type.KeyRelease, key, Qt.KeyboardModifier.NoModifier))


def window_on(shop, tmp_path, qtbot, name="other.ini"):
    window = make_window(shop, DeskSettings(tmp_path / name))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    return window


def test_enter_held_down_takes_one_reading_and_signs_nothing(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    line = sheet.numbers.reading
    line.setText(TOP[0])
    held_down(line)
    assert len(sheet.controller.session.rows) == 1
    for text in (*TOP[1:], *SIDES[:-1]):
        hands.enter(text)
    line.setText(SIDES[-1])
    held_down(line)
    assert sheet.controller.session.next_slot is None and sheet.controller.receipt is None
    hands.enter()
    assert sheet.controller.receipt is not None


def test_what_a_sheet_starts_from_is_locked_while_the_stand_in_works(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    c = sheet.controller
    c.standin.fast = False
    hands.press(Qt.Key.Key_F7)
    before = c.session.facts
    for act in (
        lambda: c.choose_master("spindle-face"),
        lambda: c.set_temperature(30.0),
        lambda: c.set_field(SetupField("limit_range_mm"), 1.0),
    ):
        act()
        assert c.session.facts is before and "Esc stops it first" in shown_text(sheet)
    desk.show_station("larch")
    settle(desk)
    assert "at work for a sheet" in shown_text(desk) and desk.sheet is sheet
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not c.running)
    c.standin.fast = True
    hands.standin()
    hands.enter()
    number = c.receipt.number
    c.choose_master("spindle-face")
    c.choose_variant("block")
    assert f"Signed as record {number}" in shown_text(sheet) and "fresh sheet" in shown_text(sheet)


def test_degrees_of_key_are_a_number(desk, hands):
    desk.open_sheets([("tip-runout", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    for i in range(8):
        hands.enter(f"{0.02 * (1 if i < 4 else -1):.3f}")
    assert sheet.controller.picture().again
    hands.enter()
    for bad in ("nan", "1e309", "inf", "40000", "forty"):
        before = len(sheet.controller.session.passes)
        sheet.controller.enter(bad)
        assert len(sheet.controller.session.passes) == before and "Key turned" in shown_text(sheet)
        assert any(words in shown_text(sheet) for words in ("number of degrees", "ten turns"))
    for _ in range(8):  # all that was read is taken back while the key is still asked for
        sheet.controller.undo()
    assert not sheet.controller.session.rows and "Key turned" not in shown_text(sheet)
    sheet.controller.enter("40")
    assert not sheet.controller.session.passes


def test_a_late_key_on_a_sheet_that_was_let_go_goes_nowhere(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    desk.sheets.let_go()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    sheet.numbers.entered.emit("")
    sheet.numbers.undo_asked.emit()
    desk.open_link("setter")  # the same view serves the next sheet
    again = hands.sheet()
    assert again is sheet
    hands.enter("-312.4010")
    assert len(again.controller.session.rows) == 1


def test_absurd_dial_readings_are_questioned_and_insisting_is_kept(desk, hands):
    desk.open_link("level")
    sheet = hands.sheet()
    hands.enter("0.3in")
    assert "more than this dial can show" in shown_text(sheet) and sheet.controller.session.rows == ()
    assert sheet.controller.question.suggestion_mm is None  # micrometres, or inches: nobody knows which
    assert "micrometres" in shown_text(sheet) and "inches" in shown_text(sheet)
    hands.press(Qt.Key.Key_Escape)
    sheet.numbers.reading.clear()
    for text in ("0.300", "0.3005", "0.2995", "0.3002"):
        hands.enter(text)
    hands.enter("0.79")
    assert "from what the other readings say" in shown_text(sheet) and sheet.controller.session.next_slot is not None
    hands.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert sheet.controller.session.rows[-1].doubted and "insisted" in sheet.controller.picture().tiles[-1].foot
    words = shown_text(sheet)
    assert "5 of 5 taken" in words and "no levelling does that" in words and "exaggerated 0 times" not in words
    hands.enter("0.3001")
    assert "5 of 5 taken, 1 more" in shown_text(sheet)
    sheet.controller.sign()
    settle(desk)
    tape = record_of(desk, sheet.controller.receipt.number)["tape"]
    assert "doubted" in tape[4] and "doubted" not in tape[0]


def test_the_tape_is_walked_struck_and_read_again_by_keyboard(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    for text in TOP:
        hands.enter(text)
    hands.press(Qt.Key.Key_Up)
    tiles = sheet.tape.tiles
    assert tiles.hasFocus() and tiles.at == 2
    hands.press(Qt.Key.Key_Left)
    hands.press(Qt.Key.Key_Return)  # read the second one again
    rows = sheet.controller.session.rows
    assert rows[1].struck == "read again" and sheet.numbers.reading.hasFocus()
    assert sheet.controller.session.next_slot.fields == {"face": "top"}
    hands.enter("-312.4002")
    assert sheet.controller.session.rows[-1].values["face"] == "top"
    hands.press(Qt.Key.Key_Up)
    hands.press(Qt.Key.Key_Home)
    hands.press(Qt.Key.Key_Backspace)
    assert sheet.numbers.asking
    hands.press(Qt.Key.Key_Return)
    assert sheet.controller.session.rows[0].struck == "mistyped"
    hands.press(Qt.Key.Key_Up)
    hands.press(Qt.Key.Key_Escape)
    assert sheet.numbers.reading.hasFocus() and desk.shows(sheet)
    for text in (TOP[0], *SIDES):
        hands.enter(text)
    bar = sheet.tape.area.horizontalScrollBar()
    hands.until(lambda: bar.value() > 0)
    assert bar.value() % 144 == 0  # the first card seen is seen whole


def test_keys_reach_the_palette_without_a_window_manager(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.press(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    finder = shown_dialog(desk, Finder)
    assert finder.window() is desk and not finder.isWindow() and finder.line.hasFocus()
    hands.type("level")
    assert finder.line.text() == "level" and sheet.numbers.reading.text() == ""
    hands.press(Qt.Key.Key_F2)  # the window's keys rest meanwhile
    assert desk.shows(sheet)
    hands.press(Qt.Key.Key_Escape)
    assert shown_dialog(desk, Finder) is None and sheet.numbers.reading.hasFocus() and desk.shows(sheet)


def test_dialogs_that_were_closed_are_gone(desk, hands, qtbot):
    for _ in range(20):
        desk.do(CommandId.FIND)
        shown_dialog(desk, Finder).reject()
    qtbot.waitUntil(lambda: not desk.findChildren(QDialog), timeout=PATIENCE)


@pytest.mark.parametrize("size", [(900, 600), (1024, 700), (1366, 768)])
def test_small_screens_hold_every_page(desk, hands, size):
    for kind in LOOP.events:  # all that can be wrong at once
        if not kind.name.startswith("master-"):
            log_event(
                desk, kind.name, "a long note on what happened here, longer than anybody would write it down " * 2
            )
    desk.resize(*size)
    QApplication.processEvents()
    for place in (CommandId.LOOP, CommandId.TOOLS, CommandId.BOOK, CommandId.SHELF):
        desk.go(place)
        QApplication.processEvents()
        assert (desk.width(), desk.height()) == size, place
    desk.open_link("setter")
    sheet = hands.sheet()
    desk.tell(
        "A notice as long as notices get, with all that has to be said about a thing that went wrong. " * 3, "bad"
    )
    for text in (*TOP, *SIDES):
        hands.enter(text)
        QApplication.processEvents()
    assert (desk.width(), desk.height()) == size
    assert sheet.numbers.main.isVisible() and sheet.numbers.main.visibleRegion().boundingRect().height() >= 28


@pytest.mark.parametrize("station", ["larch", "rowan", "alder", "willow"])
def test_the_whole_loop_is_seen_with_a_banner_over_it(desk, station):
    desk.show_station(station)
    settle(desk)
    desk.tell("Left unsigned: rack pockets on Rowan. It waits there.", "due")
    desk.loop.headline.setText("One link holds, two are due, one is broken, one was never done, and so on. " * 2)
    settle(desk)
    weakest = desk.loop.weak_frame
    assert weakest.visibleRegion().boundingRect() == weakest.rect()  # the last thing on the page, whole
    assert shown_text(desk.loop).count(NOTE) == 1  # that nothing is to scale, over no drawing


def test_main_numbers_keep_their_place_whatever_is_said(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    places = set()
    for text in (*TOP, *SIDES):
        hands.enter(text)
        QApplication.processEvents()
        places.add(sheet.numbers.main.mapTo(sheet, sheet.numbers.main.rect().topLeft()).y())
    assert len(places) == 1
    assert desk.height() == 800


def test_choices_stand_in_the_words_of_the_hands(desk, hands):
    desk.go(CommandId.SHELF)
    desk.open_sheets([("tip-runout", Subject.of("Probe"))], CommandId.LOOP)
    sheet = hands.sheet("Probe")
    assert "Type what the dial shows" in shown_text(sheet)
    sheet.toggle_setup()
    for box in desk.findChildren(QComboBox):
        for i in range(box.count()):
            assert box.itemText(i)[:1].isupper(), box.itemText(i)
    assert sheet.numbers.reading.placeholderText() != "more"


def test_two_windows_each_sign_for_the_machine_they_show(two, tmp_path, qtbot):
    one, other = window_on(two, tmp_path, qtbot, "one.ini"), window_on(two, tmp_path, qtbot)
    other.show_station("rowan")
    settle(other)
    assert (one.state.machine, other.state.machine) == ("Larch", "Rowan")
    assert two.shop().machines == ["larch", "rowan"]  # choosing edits nothing that is shared
    for window, machine in ((one, "Larch"), (other, "Rowan")):
        log_event(window, "crash", "here")
        settle(window)
        assert window.state.entries[-1].machine == machine
    one.look_again()
    settle(one)
    assert [e.machine for e in one.state.standing if e.note == "here"] == ["Larch"]
    assert all(e.kind == "event" or e.machine == "Rowan" for e in other.state.standing)
    again = DeskSettings(tmp_path / "other.ini")
    assert again.station(two.root) == "rowan"


def test_results_are_signed_for_the_machine_they_were_measured_on(two, tmp_path, qtbot):
    window = window_on(two, tmp_path, qtbot)
    window.go(CommandId.TOOLS)
    tray = window.tools
    qtbot.waitUntil(lambda: tray.controller.answer is not None and not tray.controller.plans.busy, timeout=PATIENCE)
    tray.controller.measure_on_standin()
    window.show_station("rowan")
    settle(window)
    assert window.state.machine == "Larch" and "Sign them, or throw them away" in shown_text(window)
    qtbot.waitUntil(lambda: not tray.controller.busy, timeout=PATIENCE)
    waiting = tray.controller.tray.results
    assert waiting and {r.site.machine.name for r in waiting} == {"Larch"}
    open_shop(window, two.root)
    settle(window)
    assert tray.controller.tray.results == waiting  # nothing is dropped without a word
    programs = {row.program for row in waiting}
    tray.controller.accept()
    settle(window)
    book = Ledger(two.ledger)
    newest = [body_of(r) for r in book.all()][-1]
    assert newest["machine"] == "Larch" and newest["measuring_program"] in programs and all(programs)


def test_a_sheet_of_one_machine_waits_there_when_the_window_moves_on(two, tmp_path, qtbot):
    window = window_on(two, tmp_path, qtbot)
    window.open_link("setter")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    window.sheet.controller.enter(TOP[0])
    window.show_station("rowan")
    settle(window)
    assert window.sheet is None and "Left unsigned: setter calibration on Larch" in shown_text(window)
    window.show_station("larch")
    settle(window)
    window.open_link("setter")
    qtbot.waitUntil(lambda: window.sheet is not None, timeout=PATIENCE)
    assert len(window.sheet.controller.session.live) == 1


def store_tools(site, tools):
    """Write what makes a site's tools these."""
    return TableChange.between(site, replace(site, tools=tuple(tools))).write(site)


def test_two_windows_on_one_tool_table_lose_nothing(two):
    mine, theirs = Site.load(two), Site.load(two)
    tools = list(theirs.tools)
    store_tools(theirs, [*tools[:2], tools[2].model_copy(update={"description": "renamed there"}), *tools[3:],
                         tools[0].model_copy(update={"number": 23})])  # fmt: skip
    after = store_tools(mine, [tools[0].model_copy(update={"length_mm": 111.0}), *tools[1:]])
    by = {t.number: t for t in after.tools}
    assert by[tools[0].number].length_mm == 111.0 and by[tools[2].number].description == "renamed there" and 23 in by
    assert Site.load(two).tools == after.tools
    with pytest.raises(NonnaError, match="changed in another window"):
        store_tools(mine, [*tools[:2], tools[2].model_copy(update={"description": "renamed here"}), *tools[3:]])
    card = cards(two)["probes"][0]
    put(two, "probes", {**card, "ball_mm": 5.0}, SIGNED, card)
    with pytest.raises(NonnaError, match="changed in another window"):
        put(two, "probes", {**card, "ball_mm": 4.0}, SIGNED, card)


def test_another_windows_change_is_seen_when_coming_back(desk, hands, shop):
    site = Site.load(shop)
    store_tools(site, [t.model_copy(update={"description": "new words"}) for t in site.tools])
    desk.look_again()
    settle(desk)
    assert {t.description for t in desk.site.tools} == {"new words"}


def test_a_late_failure_of_an_older_wish_leaves_the_newer_answer(desk, hands):
    desk.go(CommandId.TOOLS)
    plans = desk.tools.controller.plans
    hands.until(lambda: plans.answer is not None and not plans.busy)
    answer = plans.answer
    plans._on_failed(NonnaError("wrong-format", "an old one"), answer.number - 1)
    assert plans.answer is answer and "an old one" not in shown_text(desk)


def test_the_headline_counts_as_far_as_links_go(desk):
    assert headline([desk.state.links[0]] * 14).startswith("The loop") or "14" in headline([desk.state.links[0]] * 14)
    broken = next(s for s in desk.state.links if s.state.value == "broken")
    assert headline([broken] * 11) == "11 links are broken."


def test_events_name_what_they_befell(desk, hands):
    for kind in LOOP.events:
        if not kind.name.startswith("master-"):
            log_event(desk, kind.name, "x")
            settle(desk)
    befallen = {e.name: str(e.subject) for e in desk.state.entries if e.note == "x"}
    assert (
        befallen["spindle-work"] == "Spindle"
        and befallen["stylus-changed"] == "Probe"
        and befallen["crash"] == "Machine"
    )
    assert befallen["setter-moved"] == "Setter"


def test_labels_and_buttons_have_words(desk, hands):
    hands.press(Qt.Key.Key_F10)
    for widget in [*desk.findChildren(QPushButton)]:
        assert widget.accessibleName() or widget.text()
    assert desk.findChildren(QLabel)
    desk.do(CommandId.OPERATOR)
    QTest.keyClick(shown_dialog(desk, Finder), Qt.Key.Key_Escape)
    assert shown_dialog(desk, NoteDialog) is None


def test_on_a_usual_screen_every_page_is_seen_whole(desk, hands, qtbot):
    def scrolling():
        QApplication.processEvents()
        areas = [a for a in desk.findChildren(QScrollArea) if a.isVisible() and a.widget() is not None]
        return [a.widget().metaObject().className() for a in areas if a.verticalScrollBar().maximum() > 0]

    desk.resize(1280, 800)
    assert scrolling() == []
    desk.do(CommandId.TOOLS)
    qtbot.waitUntil(lambda: desk.tools.controller.answer is not None, timeout=PATIENCE)
    for _ in range(8):
        hands.press(Qt.Key.Key_Down)
        assert scrolling() == []
    for link in ("level", "setter", "repeatability", "runout", "ring", "probe", "closure", "proof"):
        desk.open_link(link)
        assert scrolling() == [], link
        desk.sheets.leave()


def test_a_view_that_shows_no_sheet_is_never_in_front(desk, hands, qtbot):
    for turn in range(3):
        desk.open_link("setter")
        hands.sheet()
        hands.enter(TOP[turn])
        thrown = desk.sheet
        desk.sheets.throw_away()
        desk.open_link("setter")
        hands.sheet()
        hands.enter(TOP[turn])
        desk.sheets.throw_away()  # the one thrown away before is let go for good, and lent again
        desk.open_link("level")
        hands.sheet()
        assert desk.shows(desk.sheet) and desk.sheet.controller.session.name == "face-level"
        desk.move_to(desk.folder, "larch")
        settle(desk)
        assert desk.sheet is None and not desk.shows(thrown) and desk.shows(desk.loop)
        assert "Face level" not in shown_text(desk)


def test_nothing_happens_on_a_sheet_that_nobody_sees(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.enter(TOP[0])
    hands.press(Qt.Key.Key_F2)
    for key in (CommandId.STANDIN, CommandId.UNDO, CommandId.STRIKE, CommandId.SETUP, CommandId.LIVE):
        desk.do(key)
        assert not sheet.controller.running and len(sheet.controller.session.live) == 1 and not sheet.form_open
        assert "Esc takes up the one that waits" in shown_text(desk)
    desk.do(CommandId.THROW_AWAY)
    assert desk.shows(sheet) and "Throw 1 reading away?" in shown_text(shown_dialog(desk, QDialog))
