"""The desk driven as hands would: keys on real widgets, and the record compared with the command line."""

import json
import os
from collections import Counter
from dataclasses import replace

import pytest
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QPushButton, QWidget

from nonna.adapters.store.sqlite.store import SqliteStore
from nonna.bench.sheet.drafts import left_behind
from nonna.cli.main import run
from nonna.desk.actions.by_command import log_event, open_shop, withdraw
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import commands
from nonna.desk.forms.finder import Finder
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.look import style
from nonna.desk.look.palette import DARK, LIGHT
from nonna.desk.signing.certificate_out import write_certificate
from nonna.desk.start.window_making import make_window
from nonna.desk.threads.work import Work
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from nonna.procedures.listing import PROCEDURES
from nonna.shop.cards.kinds import station_kinds
from nonna.shop.links.judge import State
from nonna.shop.links.subjects import Subject, tool
from nonna.wording.lengths import Units
from tests.support.documents import TOOL
from tests.support.hands import PATIENCE, SIDES, TOP, record_of, settle, shown_dialog, shown_text, turns, worked

PAD_KEYS = {*"0123456789-.,", "Enter"}


def test_a_letter_typed_in_a_long_book_asks_for_no_more_than_is_painted(desk, hands, monkeypatch):
    desk.go(CommandId.BOOK)
    book = desk.book
    hands.until(lambda: desk.settled and book.shown.rowCount() > 0)
    entries = desk.state.entries
    book.model.show_entries(tuple(entries[i % len(entries)]._replace(number=i + 1) for i in range(2000)), desk.units)
    book.table.setFocus()
    turns()
    asked = []
    cell = book.model.cell
    monkeypatch.setattr(book.model, "cell", lambda row, column: asked.append(row) or cell(row, column))
    hands.type("h1999")
    turns()
    assert book.shown.rowCount() == 2000 and len(set(asked)) < 200


def test_a_number_typed_in_a_list_goes_there(desk, hands, qapp):
    hands.mend("level", "setter", "repeatability")
    usual = qapp.keyboardInputInterval()
    qapp.setKeyboardInputInterval(PATIENCE)  # digits on a slow machine are one number, too
    try:
        desk.go(CommandId.TOOLS)
        hands.until(lambda: desk.tools.model.rowCount() > 0)
        desk.tools.table.setFocus()
        hands.type("14")
        assert desk.tools.table.number == 14
        desk.go(CommandId.BOOK)
        shown = desk.book.shown
        hands.until(lambda: shown.rowCount() == len(desk.state.entries) > 9)
        wanted = shown.entry(shown.rowCount() - 4).number
        desk.book.table.setFocus()
        hands.type(str(wanted))
        assert shown.entry(desk.book.table.currentIndex().row()).number == wanted
    finally:
        qapp.setKeyboardInputInterval(usual)


def test_a_whole_sheet_with_number_pad_and_enter_alone(desk, hands):
    hands.mend("level")
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.keys.clear()
    for text in (*TOP, *SIDES):
        hands.enter(text)
    assert sheet.controller.session.next_slot is None
    assert sheet.numbers.sign.isVisible()
    hands.enter()
    number = sheet.controller.receipt.number
    hands.enter()
    hands.until(lambda: desk.sheet is None)
    assert len(set(hands.keys) - PAD_KEYS) <= 2
    body = record_of(desk, number)
    assert evaluate(body["input"]).to_document() == body["result"]
    assert [row["source"] for row in body["tape"]] == ["typed"] * 11
    assert [r["position_mm"] for r in body["input"]["readings"]] == [float(t) for t in (*TOP, *SIDES)]
    assert body["masters"]["master"]["certificate"] == "TP-4471"
    assert body["carried"]["setup.repeatability_mm"]["link"] == "repeatability"
    assert body["operator"] == "K. Amsel"
    assert {s.link.key: s.state for s in desk.state.links}["setter"] is State.HOLDS


def test_the_main_job_by_keyboard_on_the_stand_in(desk, hands, tmp_path, qtbot):
    hands.mend("level")
    desk.open_link("setter")
    hands.sheet()
    hands.keys.clear()
    hands.standin()
    hands.enter()
    number = desk.sheet.controller.receipt.number
    hands.enter()
    assert hands.keys == ["Key_F7", "Enter", "Enter"]
    body = record_of(desk, number)
    assert evaluate(body["input"]).to_document() == body["result"]
    assert "G38.2" in body["measuring_program"]
    assert {row["source"] for row in body["tape"]} == {"stand-in"}

    hands.press(Qt.Key.Key_F3)
    desk.tools.mark((2, 9, 11))
    hands.press(Qt.Key.Key_H)
    for subject in ("T2", "T9", "T11"):
        sheet = hands.sheet(subject)
        assert sheet.controller.session.facts.setup["trigger_plane_mm"] == body["value_mm"]
        hands.standin()
        hands.enter()
        hands.enter()
    hands.until(lambda: desk.sheet is None)
    rows = {str(r.subject): r for r in desk.tools.model.rows}
    assert all(rows[t].accepted and rows[t].change is not None for t in ("T2", "T9", "T11"))
    assert not rows["T4"].accepted

    table = tmp_path / "table.csv"
    desk.tools.write_table(table)
    worked(desk)
    lines = {line.split(",")[0]: line.split(",") for line in table.read_text().splitlines()}
    assert float(lines["9"][2]) == pytest.approx(rows["T9"].now, abs=6e-5)
    assert lines["4"][2:] == ["61.2040", "61.2040", "", "", "", "kept"]
    desk.tools.write_table(tmp_path / "no" / "table.csv")
    worked(desk)
    assert "not written" in shown_text(desk.tools)

    hands.press(Qt.Key.Key_F4)
    row = next(r for r in range(desk.book.shown.rowCount()) if desk.book.shown.entry(r).number == number)
    desk.book.table.selectRow(row)
    write_certificate(desk, number, tmp_path / "c.pdf")
    hands.until(lambda: "written" in shown_text(desk.book))
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF")
    write_certificate(desk, number, tmp_path / "no" / "c.pdf")
    hands.until(lambda: "not written" in shown_text(desk.book))


def test_nothing_typed_is_lost_and_questions_are_asked(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    line = sheet.numbers.reading
    hands.enter("12..5")
    assert line.text() == "12..5"
    assert "is not a length" in shown_text(sheet)
    line.clear()
    hands.enter("-12.2992")  # read in inches
    assert line.text() == "-12.2992"
    assert sheet.controller.session.rows == ()
    assert "inches" in sheet.controller.picture().headline
    hands.press(Qt.Key.Key_Escape)
    assert sheet.controller.question is None
    assert line.text() == "-12.2992"
    hands.enter()
    hands.enter()  # yes, inches
    assert sheet.controller.session.live[0]["position_mm"] == pytest.approx(-312.39968)
    assert line.text() == ""
    hands.enter("-300")
    hands.enter()
    assert len(sheet.controller.session.rows) == 1  # far off: Enter alone does not take it
    hands.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert sheet.controller.session.live[-1]["position_mm"] == -300.0
    hands.press(Qt.Key.Key_Backspace)
    hands.press(Qt.Key.Key_Return)
    hands.enter()
    assert desk.sheet is sheet  # an empty Enter signs nothing that is not all there
    assert sheet.controller.receipt is None
    hands.enter("-12.29921in")
    assert sheet.controller.session.live[-1]["position_mm"] == pytest.approx(-312.39993, abs=1e-4)


def test_striking_undo_and_the_tape(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    for text in TOP:
        hands.enter(text)
    hands.press(Qt.Key.Key_Backspace)
    assert sheet.numbers.asking
    hands.press(Qt.Key.Key_Escape)
    assert not sheet.numbers.asking
    hands.press(Qt.Key.Key_Backspace)
    hands.type("chip")
    hands.press(Qt.Key.Key_Return)
    rows = sheet.controller.session.rows
    assert [r.struck for r in rows] == ["", "", "chip"]
    assert sheet.controller.session.next_slot.label == "Top 3/3"
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert [r.struck for r in sheet.controller.session.rows] == ["", "", ""]
    QTest.mouseClick(sheet.tape.tiles, Qt.MouseButton.LeftButton, pos=QPoint(30, 30))
    hands.press(Qt.Key.Key_Return)
    assert [r.struck for r in sheet.controller.session.rows] == ["mistyped", "", ""]
    hands.enter(TOP[0])
    for text in SIDES:
        hands.enter(text)
    hands.enter()
    body = record_of(desk, sheet.controller.receipt.number)
    assert [row["struck"] for row in body["tape"]].count("mistyped") == 1
    assert len(body["input"]["readings"]) == 11
    assert not sheet.controller.strike(0, "too late")
    sheet.controller.undo()
    assert "stays" in shown_text(sheet)


def test_a_struck_last_reading_reopens_a_full_sheet(desk, hands):
    desk.open_sheets([("tool-length", Subject.of("T2"))], CommandId.TOOLS)
    sheet = hands.sheet()
    assert "broken" in shown_text(sheet)  # the setter was knocked: said on the sheet
    for text in ("-339.981", "-339.980", "-339.9812"):
        hands.enter(text)
    assert sheet.numbers.sign.isVisible()
    hands.press(Qt.Key.Key_Backspace)
    hands.press(Qt.Key.Key_Return)
    assert not sheet.numbers.sign.isVisible()
    assert "2 of 3 taken" in shown_text(sheet)


def test_readings_from_a_file_are_the_files_own(desk, hands, tmp_path, setter):
    desk.open_link("setter")
    sheet = hands.sheet()
    file = tmp_path / "setter.json"
    for bad, words in (
        ("{", "not JSON"),
        (json.dumps({"format": "nonna-readings/1", "procedure": "repeatability"}), "holds a"),
    ):
        file.write_text(bad)
        sheet.controller.from_file(file)
        worked(desk)
        assert words in shown_text(sheet)
        assert sheet.controller.session.rows == ()
    file.write_text(json.dumps(setter))
    sheet.controller.from_file(file)
    worked(desk)
    hands.press(Qt.Key.Key_F8)
    hands.until(lambda: shown_dialog(desk, QFileDialog) is not None)
    shown_dialog(desk, QFileDialog).reject()
    sheet.controller.sign()
    settle(desk)
    body = record_of(desk, sheet.controller.receipt.number)
    assert body["result"] == json.loads(json.dumps(evaluate(setter).to_document()))
    assert body["tape"][0]["source"] == "file setter.json"
    assert body["carried"] == {}


def test_the_stand_in_can_be_stopped_and_says_what_went_wrong(desk, hands):
    desk.open_link("repeatability")
    sheet = hands.sheet()
    sheet.controller.standin.fast = False  # real speed: it would take its time
    hands.press(Qt.Key.Key_F7)
    assert sheet.controller.running
    assert not sheet.controller.enter("1.0")
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not sheet.controller.running)
    assert "Stopped" in shown_text(sheet)
    assert sheet.controller.session.rows == ()
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: desk.sheet is None)
    short = [t.model_copy(update={"true_length_mm": 90.0}) if t.number == 2 else t for t in desk.site.tools]
    object.__setattr__(desk.site, "tools", tuple(short))  # the tool broke off: the table does not know
    desk.open_sheets([("tool-length", Subject.of("T2"))], CommandId.TOOLS)
    sheet = hands.sheet("T2")
    hands.standin()
    assert "never triggered" in shown_text(sheet)


def test_what_a_sheet_starts_from_can_be_seen_and_changed(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.press(Qt.Key.Key_F9)
    form = sheet.form
    assert f"record {sheet.controller.opening.carried['setup.repeatability_mm'].record}" in shown_text(form)
    fields = {e.accessibleName(): e for e in form.findChildren(QLineEdit)}
    field = fields["Range of the top touches"]
    field.setFocus()
    field.selectAll()
    hands.type("-5um")
    hands.press(Qt.Key.Key_Tab)
    assert sheet.controller.session.facts.setup["limit_range_mm"] == -0.005
    assert isinstance(sheet.controller.session.evaluate(), NonnaError)
    sheet.controller.undo()
    assert sheet.controller.session.facts.setup["limit_range_mm"] == 0.004
    field = next(e for e in form.findChildren(QLineEdit) if e.accessibleName() == "Temperature")
    field.setText("hot")
    field.setModified(True)
    field.editingFinished.emit()
    assert "Temperature" in form.said.text()
    sheet.controller.set_temperature(24.0)
    assert sheet.controller.session.document()["conditions"]["temperature_c"] == 24.0
    hands.press(Qt.Key.Key_Escape)
    hands.enter(TOP[0])
    sheet.controller.choose_master("spindle-face")
    settle(desk)
    assert sheet.controller.session.rows[0].struck == "other master chosen"
    assert len(sheet.controller.session.procedure.slots(sheet.controller.session.facts)) == 3
    hands.standin()
    assert sheet.controller.session.next_slot is None
    assert sheet.controller.session.evaluate().quantity("trigger_plane_mm").value == pytest.approx(-452.4, abs=0.2)


def test_units_theme_and_places_at_a_keypress_and_remembered(desk, hands, tmp_path, qapp):
    assert desk.units == Units.MM
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.type("-12.29")
    hands.press(Qt.Key.Key_F5)
    assert desk.units == Units.INCH
    assert sheet.numbers.reading.text() == "-12.29"
    assert " in" in sheet.controller.picture().expected
    hands.enter("921")
    assert sheet.controller.session.live[0]["position_mm"] == pytest.approx(-312.3999, abs=1e-3)
    hands.press(Qt.Key.Key_F4)
    assert desk.places.currentWidget() is desk.book
    hands.press(Qt.Key.Key_F2)
    hands.press(Qt.Key.Key_Escape)
    assert desk.places.currentWidget() is sheet  # a sheet under way stays
    desk.close()
    assert desk.isVisible()  # and is not lost without a word
    assert "Not signed yet: setter calibration" in shown_text(desk)
    hands.press(Qt.Key.Key_F6)
    assert style.current() is DARK
    hands.press(Qt.Key.Key_Escape)
    assert "Unsigned: Setter calibration, 1 reading" in shown_text(desk)
    desk.close()
    worked(desk)
    assert left_behind(desk.folder) == ("setter calibration, Setter",)  # it waits for the next start
    again = DeskSettings(tmp_path / "desk.ini")
    assert (again.units, again.dark) == (Units.INCH, True)
    assert again.geometry is not None
    style.apply(qapp, LIGHT)


def test_the_palette_finds_commands_events_and_people(desk, hands):
    hands.press(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    finder = shown_dialog(desk, Finder)
    hands.until(finder.line.hasFocus)
    hands.type("knocked")
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: shown_dialog(desk, NoteDialog) is not None and shown_dialog(desk, NoteDialog).line.hasFocus())
    before = len(desk.state.entries)
    hands.press(Qt.Key.Key_Return)  # no words: it asks again
    assert len(desk.state.entries) == before
    hands.type("dropped a spanner")
    hands.press(Qt.Key.Key_Return)
    assert desk.state.entries[-1].note == "dropped a spanner"
    assert shown_dialog(desk, Finder) is None
    withdraw(desk, desk.state.entries[-1].number)
    dialog = shown_dialog(desk, NoteDialog)
    dialog.line.setText("wrong machine")
    dialog.line.returnPressed.emit()
    settle(desk)
    assert desk.state.entries[-1].kind == "withdrawal"
    assert len(desk.state.standing) == len([e for e in desk.state.entries if e.machine == "Larch"]) - 2
    desk.do(CommandId.OPERATOR)
    finder = shown_dialog(desk, Finder)
    QTest.keyClick(finder.line, Qt.Key.Key_Down)
    QTest.keyClick(finder.line, Qt.Key.Key_Return)
    assert desk.operator == "J. Finch"
    desk.do(CommandId.VERIFY)
    hands.until(lambda: "sound" in shown_text(desk))


def test_the_loop_can_be_walked_and_every_place_has_a_state(desk, hands):
    hands.press(Qt.Key.Key_Right)
    assert desk.loop.focused_link() == "master"
    hands.press(Qt.Key.Key_Return)
    assert desk.places.currentWidget() is desk.shelf
    desk.do(CommandId.LOOP)
    desk.loop.focus_link("master")
    hands.press(Qt.Key.Key_Left)
    assert desk.loop.focused_link() == "proof"
    hands.press(Qt.Key.Key_Up)
    assert desk.loop.focused_link() == "tools"
    hands.press(Qt.Key.Key_Return)
    assert desk.places.currentWidget() is desk.tools
    hands.press(Qt.Key.Key_Down)
    before = desk.tools.controller.marked
    hands.press(Qt.Key.Key_Space)
    assert desk.tools.controller.marked != before
    desk.tools.ask_where()
    assert "nothing new to write" in shown_text(desk.tools)
    desk.book.search.setText("finch setter")
    assert all(desk.book.shown.entry(r).operator == "J. Finch" for r in range(desk.book.shown.rowCount()))
    desk.book.search.setText("zebra")
    desk.go(CommandId.BOOK)
    assert "Nothing found" in shown_text(desk.book)
    desk.book.ask_where()
    assert "no certificate" in shown_text(desk.book)
    desk.book.search.clear()
    desk.do(CommandId.STANDIN)
    assert "open sheet" in shown_text(desk)
    log_event(desk, "crash", "into the vice")
    settle(desk)
    assert {s.state for s in desk.state.links if s.link.key != "master"} == {State.BROKEN}


def test_a_damaged_shop_is_said_and_a_good_one_stays_open(desk, shop, tmp_path, qtbot):
    bad = tmp_path / "bad"
    bad.mkdir()
    (bad / "shop.json").write_text('{"format": "nonna-shop/1"')
    open_shop(desk, bad)
    settle(desk)
    assert "not opened" in shown_text(desk)
    assert desk.folder == shop
    (bad / "shop.json").write_text('{"format": "nonna-shop/1", "name": "x"}')
    window = make_window(type(shop)(bad), DeskSettings(tmp_path / "x.ini"))
    qtbot.addWidget(window)
    assert "wrong" in window.banner.words.text()
    open_shop(desk, shop.root)
    settle(desk)
    assert desk.site is not None


def test_a_ledger_that_refuses_loses_nothing(desk, hands, monkeypatch):
    desk.open_sheets([("tool-length", Subject.of("T2"))], CommandId.TOOLS)
    sheet = hands.sheet()
    for text in ("-339.981", "-339.980", "-339.9812"):
        hands.enter(text)
    monkeypatch.setattr(SqliteStore, "adding", lambda _: (_ for _ in ()).throw(NonnaError("unreadable", "disk full")))
    hands.enter()
    assert "nothing is lost: disk full" in shown_text(sheet)
    assert len(sheet.controller.session.rows) == 3
    monkeypatch.undo()
    hands.enter()
    assert sheet.controller.receipt is not None


def test_every_widget_that_takes_the_keyboard_has_a_name(desk, hands):
    desk.open_link("setter")
    hands.sheet().toggle_setup()
    assert desk.tools
    assert desk.book
    nameless = [
        widget
        for widget in desk.findChildren(QWidget)
        if widget.focusPolicy() != Qt.FocusPolicy.NoFocus or isinstance(widget, QLineEdit | QPushButton)
        if not widget.accessibleName()
    ]
    assert not nameless, nameless
    assert all(station.accessibleName() and station.accessibleDescription() for station in desk.loop.stations)
    assert len({c.keys for c in commands() if c.keys}) == len([c for c in commands() if c.keys])


def test_nothing_overflows_at_the_usual_size(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.standin()
    for units in (Units.MM, Units.INCH):
        desk.session.units = units
        sheet.show_units(units)
        QApplication.processEvents()
        assert (desk.width(), desk.height()) == (1280, 800)
        assert desk.minimumSizeHint().height() <= 800
        for panel in (sheet.numbers, sheet.steps):
            assert panel.sizeHint().height() <= panel.height() + 1


def test_work_that_fails_inside_is_told_not_swallowed(qtbot, capsys):
    work = Work(lambda _: 1 / 0)
    with qtbot.waitSignal(work.failed, timeout=PATIENCE) as caught:
        work.start()
    assert "ZeroDivisionError" in caught.args[0].message
    assert "Traceback" in capsys.readouterr().err


def test_opening_under_a_real_display_server(tmp_path, practice):
    """One smoke run under Xvfb, on the xcb platform."""
    import shutil
    import subprocess
    import sys

    if shutil.which("xvfb-run") is None:
        pytest.fail("xvfb-run is missing; make installs it")
    code = (
        "import sys; from pathlib import Path; from PySide6.QtWidgets import QApplication; from PySide6.QtCore "
        "import QTimer\n"
        "from nonna.desk.start.window_making import make_window; from nonna.desk.frame.settings import DeskSettings; "
        "from nonna.adapters.shop_files.shop_folder import ShopFolder\n"
        "app = QApplication([]); window = make_window(ShopFolder(Path(sys.argv[1])), DeskSettings(Path(sys.argv[2])))\n"
        "def seen(): print(app.platformName(), window.isVisible(), len(window.loop.stations)); app.quit()\n"
        "window.ready.connect(lambda: QTimer.singleShot(200, seen)); window.show(); app.exec()"
    )
    environment = {"PATH": "/usr/bin:/bin", "QT_QPA_PLATFORM": "xcb", "HOME": str(tmp_path)}
    environment["PYTHONPATH"] = os.pathsep.join(sys.path)  # of the sources that are tested, wherever they lie
    done = subprocess.run(
        ["xvfb-run", "-a", sys.executable, "-c", code, str(practice), str(tmp_path / "d.ini")],
        capture_output=True,
        text=True,
        env=environment,
        timeout=120,
        check=False,
    )
    assert done.stdout.split() == ["xcb", "True", "10"], done.stderr


def test_a_master_overdue_is_said_on_the_loop_and_on_the_sheet(desk, hands, shop):
    path = shop.root / "masters.json"
    shelf = json.loads(path.read_text())
    shelf["masters"][0]["due"] = "2026-01-31"
    path.write_text(json.dumps(shelf))
    open_shop(desk, shop.root)
    settle(desk)
    assert {s.link.key: s.state for s in desk.state.links}["master"] is State.BROKEN
    assert "ran out" in shown_text(desk.loop) + desk.loop.stations[0].accessibleDescription()
    desk.open_link("setter")
    sheet = hands.sheet()
    assert "ran out on 2026-01-31" in shown_text(sheet)
    sheet.controller.choose_master("shank")
    settle(desk)
    assert "ran out" not in shown_text(sheet)
    hands.standin()
    sheet.controller.sign()
    settle(desk)
    body = record_of(desk, sheet.controller.receipt.number)
    assert "not-traceable" in body["result"]["flags"]
    assert body["masters"]["master"]["id"] == "shank"


def test_sheets_are_put_aside_and_taken_up_with_one_key(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.enter(TOP[0])
    for key, place in (
        (Qt.Key.Key_Escape, desk.loop),
        (Qt.Key.Key_F4, desk.book),
        (Qt.Key.Key_F10, desk.shelf),
        (Qt.Key.Key_F2, desk.loop),
    ):
        hands.press(key)
        assert desk.shows(place) and "Unsigned: Setter calibration, 1 reading" in shown_text(desk)
        hands.press(Qt.Key.Key_Escape)
        assert desk.shows(sheet) and "Unsigned" not in shown_text(desk) and len(sheet.controller.session.live) == 1
    desk.open_link("level")  # another one meanwhile
    hands.until(lambda: desk.sheet is not sheet and desk.sheets.in_front)
    other = desk.sheet
    assert "Unsigned: Setter calibration" in shown_text(desk)
    desk.sheet.left.emit()  # nothing on its tape: it is closed
    assert desk.sheet is None and other is not sheet
    hands.press(Qt.Key.Key_Escape)
    assert desk.sheet is sheet and desk.shows(sheet)
    hands.enter(TOP[1])
    desk.open_link("repeatability")
    desk.open_link("setter")  # asked for again, it is taken up
    assert desk.sheet is sheet and len(sheet.controller.session.live) == 2
    assert left_behind(desk.folder) == ()  # it is in hand, not left


def test_throwing_readings_away_is_an_act_of_its_own_and_can_be_undone(desk, hands):
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.enter(TOP[0])
    hands.enter(TOP[1])
    desk.do(CommandId.THROW_AWAY)
    asked = shown_dialog(desk, QuestionDialog)
    assert "Throw 2 readings away?" in shown_text(asked)
    QApplication.sendEvent(
        asked, QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Return, Qt.KeyboardModifier.NoModifier, "", True)
    )
    assert asked.isVisible()  # a key held down answers nothing
    QTest.keyClick(asked, Qt.Key.Key_Escape)
    assert desk.sheet is sheet and len(sheet.controller.session.live) == 2
    desk.do(CommandId.THROW_AWAY)
    QTest.keyClick(shown_dialog(desk, QuestionDialog), Qt.Key.Key_Return)
    hands.until(lambda: desk.sheet is None and desk.shows(desk.loop))
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: desk.sheets.in_front)
    assert desk.sheet is sheet and len(sheet.controller.session.live) == 2
    hands.enter(TOP[2])
    assert len(sheet.controller.session.live) == 3


def test_an_event_on_one_tool_breaks_that_tool_alone(desk, hands):
    hands.mend("level", "setter")
    desk.open_sheets([("tool-length", Subject.of("T2")), ("tool-length", Subject.of("T9"))], CommandId.TOOLS)
    for subject in ("T2", "T9"):
        hands.sheet(subject)
        hands.standin()
        hands.enter()
        hands.enter()
    hands.until(lambda: desk.sheet is None)
    desk.do(CommandId.FIND)
    finder = shown_dialog(desk, Finder)
    finder.line.setText("re-gripped t9")
    QTest.keyClick(finder.line, Qt.Key.Key_Return)
    dialog = shown_dialog(desk, NoteDialog)
    dialog.line.setText("slipped in the collet")
    dialog.line.returnPressed.emit()
    settle(desk)
    tools = dict(next(s for s in desk.state.links if s.link.key == "tools").subjects)
    assert (tools[tool(2)], tools[tool(9)]) == (State.HOLDS, State.BROKEN)


def test_what_another_process_signs_is_seen_on_coming_back(desk, hands, tool, tmp_path):
    from nonna.cli.main import run

    file = tmp_path / "t2.json"
    file.write_text(json.dumps(tool))
    before = len(desk.state.entries)
    arguments = [
        "record",
        str(file),
        "--shop",
        str(desk.folder.root),
        "--operator",
        "J. Finch",
        "--machine",
        "Larch",
        "--subject",
        "T2",
    ]
    assert run(arguments, lambda _: 9) == 0
    other = QWidget()
    other.show()
    other.activateWindow()
    hands.until(other.isActiveWindow)
    desk.activateWindow()
    hands.until(lambda: len(desk.state.entries) == before + 1)


def test_a_value_with_all_its_records_taken_back_is_shown_without_a_history(desk, hands):
    measured = [e for e in desk.state.entries if e.kind == "measurement"]
    alike = Counter((e.name, e.subject, e.machine) for e in measured)
    rarest = min((key for key in alike if key[2] == "Larch"), key=alike.__getitem__)
    for number in [e.number for e in measured if (e.name, e.subject, e.machine) == rarest]:
        withdraw(desk, number)
        shown_dialog(desk, NoteDialog).line.setText("wrong tool")
        shown_dialog(desk, NoteDialog).line.returnPressed.emit()
        settle(desk)
    desk.go(CommandId.BOOK)
    desk.book.search.setText(f"{number} {PROCEDURES[rarest[0]].title.lower()}")
    hands.until(lambda: f"Record {number}," in shown_text(desk.book))
    assert "Taken back: it no longer counts." in shown_text(desk.book)


def test_a_record_taken_back_says_so_on_its_certificate(desk, tmp_path, hands):
    import pypdfium2

    number = next(e.number for e in desk.state.entries if e.name == "setter-calibration")
    withdraw(desk, number)
    dialog = shown_dialog(desk, NoteDialog)
    dialog.line.setText("wrong master in the spindle")
    dialog.line.returnPressed.emit()
    settle(desk)
    desk.go(CommandId.BOOK)
    desk.book.search.setText(f"{number} setter calibration")
    write_certificate(desk, number, tmp_path / "c.pdf")
    hands.until(lambda: "written" in shown_text(desk.book))
    document = pypdfium2.PdfDocument(tmp_path / "c.pdf")
    text = document[0].get_textpage().get_text_range()
    document.close()
    assert f"Taken back by record {desk.state.entries[-1].number}" in text


def test_without_a_shop_the_first_window_offers_a_way_on(qtbot, tmp_path, shop):
    from nonna.desk.start.welcome import Welcome

    welcome = Welcome(tmp_path / "none")
    qtbot.addWidget(welcome)
    welcome.show()
    welcome.choose(tmp_path)
    worked(welcome)
    assert "shop.json" in shown_text(welcome)
    welcome.choose(shop.root)
    worked(welcome)
    assert welcome.folder == shop
    other = Welcome(tmp_path / "none")
    qtbot.addWidget(other)
    other.show()
    demo = next(b for b in other.findChildren(QPushButton) if "demo" in b.text())
    QTest.mouseClick(demo, Qt.MouseButton.LeftButton)
    assert other.demo
    assert other.result() == Welcome.DialogCode.Accepted


def test_the_record_is_what_the_command_line_says(desk, hands):
    """The same readings through the sheet and through a process of their own."""
    import subprocess
    import sys

    for name, subject in (("repeatability", "Setter"), ("setter-calibration", "Setter"), ("tool-length", "T14")):
        desk.open_sheets([(name, Subject.of(subject))], CommandId.LOOP)
        sheet = hands.sheet(subject)
        hands.until(lambda n=name: desk.sheet.controller.session.name == n)
        sheet = desk.sheet
        hands.standin()
        hands.enter()
        body = record_of(desk, sheet.controller.receipt.number)
        text = json.dumps(body["input"]).encode()
        done = subprocess.run(
            [sys.executable, "-m", "nonna", "evaluate", "-"], input=text, capture_output=True, check=True
        )
        assert json.loads(done.stdout) == body["result"]
        hands.enter()
        hands.until(lambda: desk.sheet is None)


def test_the_tour_leaves_what_it_promises(tmp_path, qapp):
    from nonna.desk.start.tour import run

    assert run(tmp_path / "out") == 0
    made = {path.name: path.stat().st_size for path in (tmp_path / "out").iterdir()}
    assert {"certificate.pdf", "tool-table.csv", "setter-calibration.ngc", "01-loop.png"} <= set(made)
    pictures = [name for name in made if name.endswith(".png")]
    assert len(pictures) == (25 if "presetter" in station_kinds() else 20)
    assert {"15-wear.png", "16-lathe-loop.png"} <= set(pictures)
    assert min(made.values()) > 200
    style.apply(qapp, LIGHT)


def test_widgets_are_never_collected_on_a_worker_thread(desk, hands, qtbot, tmp_path):
    """Cycles of widgets are made while workers allocate as fast as they can; none may be freed there."""
    import gc
    import threading
    import weakref

    assert not gc.isenabled()
    freed_on = []

    class Knot(QWidget):
        def __init__(self):
            super().__init__()
            self.me = self
            weakref.finalize(self, lambda: freed_on.append(threading.current_thread()))

    def allocate(work):
        for _ in range(300):
            [[] for _ in range(2000)]
            work.check()
        return True

    (tmp_path / "r.json").write_text(json.dumps(TOOL))
    assert run(["evaluate", str(tmp_path / "r.json")], lambda _: 9) == 0  # beside a desk it leaves collecting alone
    assert not gc.isenabled()
    for _ in range(6):
        knots = [Knot() for _ in range(40)]
        del knots
        work = Work(allocate)
        with qtbot.waitSignal(work.done, timeout=PATIENCE):
            work.start()
    gc.collect()
    assert len(freed_on) == 240
    assert set(freed_on) == {threading.main_thread()}


def test_what_was_undone_is_done_again_on_sheet_and_tray(desk, hands):
    hands.mend("level")
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.enter("-312.4010")
    hands.enter("-312.4004")
    control = Qt.KeyboardModifier.ControlModifier
    for key, count in ((Qt.Key.Key_Z, 1), (Qt.Key.Key_Y, 2), (Qt.Key.Key_Y, 2), (Qt.Key.Key_Z, 1)):
        hands.press(key, control)
        assert len(sheet.controller.session.live) == count
    hands.enter("-312.4011")
    hands.press(Qt.Key.Key_Y, control)  # what is new now leaves nothing to do again
    assert [row["position_mm"] for row in sheet.controller.session.live] == [-312.401, -312.4011]
    desk.go(CommandId.TOOLS)
    tray = desk.tools.controller
    before = tray.tray.marked
    desk.tools.mark((2,))
    assert tray.tray.marked != before or before == frozenset({2})
    marked = tray.tray.marked
    desk.do(CommandId.UNDO)
    assert tray.tray.marked == before
    desk.do(CommandId.REDO)
    assert tray.tray.marked == marked
    desk.do(CommandId.REDO)
    assert "Nothing was undone here" in shown_text(desk.tools)


def test_what_is_said_in_the_book_stays_until_its_records_change(desk, hands):
    hands.press(Qt.Key.Key_F4)
    hands.until(lambda: desk.places.at(CommandId.BOOK))
    book, state = desk.book, desk.state
    book.table.selectRow(3)
    book.say("c.pdf written.", "good")
    book.show_state(replace(state, entries=(*state.entries,)), desk.units)  # read once more, nothing new
    assert "c.pdf written." in shown_text(book) and book.table.currentIndex().row() == 3
    book.show_state(replace(state, entries=state.entries[:-1]), desk.units)
    assert "c.pdf written." not in shown_text(book)
