"""Ways through the program that are seldom taken: dialogs, first starts, damaged things, other doors."""

import json
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from nonna.adapters.files import user_folders as places
from nonna.adapters.files.reading import read_bytes
from nonna.adapters.shop_files.practice import make
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.station.weakest import weakest
from nonna.cli.main import run
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.start import app as desk_app
from nonna.desk.start import tour as desk_tour
from nonna.desk.start.welcome import Welcome
from nonna.desk.start.window_making import make_window
from nonna.desk.threads.work import Work
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Machine
from nonna.shop.links.subjects import Subject
from nonna.shop.texts import strict_json
from nonna.shop.texts.strict_model import checked
from nonna.stations.kind import kind_of
from tests.support.documents import REPEAT, TOOL
from tests.support.hands import PATIENCE, choose, settle, shown_dialog, shown_text, the_dialog, worked
from tests.support.ledgers import Ledger


def measured(window, hands, *wanted):
    window.open_sheets(list(wanted), CommandId.TOOLS)
    for _, subject in wanted:
        hands.sheet(str(subject))
        hands.standin()
        hands.enter()
        hands.enter()
    hands.until(lambda: window.sheet is None)


def test_table_and_certificate_through_their_dialogs(desk, hands, tmp_path):
    hands.mend("level", "setter")
    measured(desk, hands, ("tool-length", Subject.of("T2")))
    hands.press(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    choose(hands, tmp_path / "table.csv")
    worked(desk)
    assert "table.csv written: 1 measured lengths, 7 kept" in shown_text(desk.tools)
    assert (tmp_path / "table.csv").read_text().count("measured") == 1
    hands.press(Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
    choose(hands, tmp_path / "c.pdf")
    hands.until(lambda: "c.pdf written" in shown_text(desk.book))


def test_another_shop_through_its_dialog(desk, hands, tmp_path):
    other = make(tmp_path / "other")
    hands.press(Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier)
    choose(hands, other.root)
    hands.until(lambda: desk.folder == other)
    assert len(desk.state.entries) == len(Ledger(other.ledger).entries()) > 40
    with pytest.raises(FileExistsError):
        make(other.root)


def test_readings_through_their_dialog(desk, hands, setter, tmp_path):
    (tmp_path / "setter.json").write_text(json.dumps(setter))
    desk.open_link("setter")
    sheet = hands.sheet()
    hands.press(Qt.Key.Key_F8)
    choose(hands, tmp_path / "setter.json")
    worked(desk)
    assert len(sheet.controller.session.rows) == 7
    desk.do(CommandId.UNDO)
    assert sheet.controller.session.rows == ()
    desk.do(CommandId.STRIKE)  # nothing to strike: nothing happens
    assert not sheet.numbers.asking
    desk.do(CommandId.SETUP)
    desk.do(CommandId.SETUP)
    desk.open_link("repeatability")
    hands.until(lambda: desk.sheet.controller.session.name == "repeatability")  # the empty one made room


def test_taking_a_record_back_from_the_book(desk, hands):
    desk.go(CommandId.BOOK)
    desk.book.search.setText("repeatability")
    number = desk.book.current_entry().number
    desk.book.withdraw.click()
    dialog = shown_dialog(desk, NoteDialog)
    QTest.keyClicks(dialog.line, "pad was dirty")
    QTest.keyClick(dialog.line, Qt.Key.Key_Return)
    settle(desk)
    assert desk.state.entries[-1].refers_to == number
    assert "Taken back" in shown_text(desk.book)
    assert not desk.book.withdraw.isEnabled()


def test_a_damaged_chain_is_told_on_the_desk_and_by_the_command(desk, hands, shop, capfd):
    with closing(sqlite3.connect(shop.ledger)) as db:
        db.execute("DROP TRIGGER records_no_update")
        db.execute("UPDATE records SET operator = 'nobody' WHERE number = 7")
        db.commit()
    desk.do(CommandId.VERIFY)
    hands.until(lambda: "Record 7 is damaged" in shown_text(desk))
    assert run(["ledger", "verify", "--shop", str(shop.root)], lambda _: 9) == 3
    out, err = capfd.readouterr()
    assert json.loads(out)["first_damaged"] == 7
    assert "record 7" in err


def test_the_window_remembers_where_it_was(desk, shop, tmp_path, qtbot):
    before = DeskSettings(tmp_path / "desk.ini").geometry
    desk.close()
    assert not desk.isVisible()
    kept = DeskSettings(tmp_path / "desk.ini").geometry
    assert before is None
    assert kept is not None
    again = make_window(shop, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(again)
    assert again.restoreGeometry(kept)


def test_opening_the_program(monkeypatch, tmp_path, qapp, shop):
    monkeypatch.setattr(places, "settings_file", lambda: tmp_path / "desk.ini")
    monkeypatch.setattr(places, "default_shop", lambda: tmp_path / "nowhere")
    monkeypatch.setattr(places, "state_folder", lambda: tmp_path / "state")
    hook, opened = sys.excepthook, []

    def stand_in_exec(*_):
        opened.extend(w for w in QApplication.topLevelWidgets() if w.isVisible() and hasattr(w, "loop"))
        for widget in opened:
            widget.hide()
        return 0

    monkeypatch.setattr(QApplication, "exec", stand_in_exec)
    qapp.setKeyboardInputInterval(400)
    assert desk_app.open_desk(demo=False, shop=shop.root, tour=None) == 0
    assert qapp.keyboardInputInterval() == desk_app.GLOVED_MS > 400  # digits of gloved hands are one number
    assert desk_app.open_desk(demo=True, shop=None, tour=None) == 0
    monkeypatch.setattr(Welcome, "exec", lambda self: Welcome.DialogCode.Rejected)
    assert desk_app.open_desk(demo=False, shop=None, tour=None) == 0
    assert [window.state.shop for window in opened] == ["Tarnholm Pump Works"] * len(opened)
    assert len(opened) >= 2 and sys.excepthook is hook
    assert [path.name for path in (tmp_path / "state").iterdir()] == ["nonna.log"]  # it ended by itself
    for name in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setattr(desk_tour, "run", lambda out: 7)
    assert desk_app.open_desk(demo=True, shop=None, tour=tmp_path) == 7


def test_work_can_be_cancelled_and_waited_for(qtbot):
    work = Work(lambda w: w.pause(30))
    with qtbot.waitSignal(work.cancelled, timeout=PATIENCE):
        work.start()
        work.cancel()
    work.ended()
    bad = Work(lambda _: (_ for _ in ()).throw(NonnaError("x", "in words")))
    with qtbot.waitSignal(bad.failed, timeout=PATIENCE) as caught:
        bad.start()
    assert caught.args[0].message == "in words"


def test_lines_from_a_file_and_lines_too_long(tmp_path, capfd, monkeypatch):
    file = tmp_path / "many.jsonl"
    long = json.dumps(TOOL | {"x": "y" * 3000})
    file.write_text("\n".join([json.dumps(TOOL), long, "", json.dumps(REPEAT), long]))
    monkeypatch.setattr(strict_json, "MAX_BYTES", 2000)
    assert run(["evaluate", str(file), "--jsonl"], lambda _: 9) == 1
    answers = [json.loads(line) for line in capfd.readouterr().out.splitlines()]
    assert [a.get("procedure") or a["error"]["code"] for a in answers] == [
        "tool-length",
        "too-large",
        "repeatability",
        "too-large",
    ]
    assert run(["evaluate", str(tmp_path / "none"), "--jsonl"], lambda _: 9) == 2


def test_certificates_find_the_usual_shop(monkeypatch, shop, tmp_path, capfd):
    monkeypatch.setattr(places, "default_shop", lambda: shop.root)
    assert run(["certificate", "2", "-o", str(tmp_path / "c.pdf")], lambda _: 9) == 0
    moved = next(e.number for e in Ledger(shop.ledger).entries() if e.kind == "event")
    assert run(["certificate", str(moved), "-o", str(tmp_path / "c.pdf")], lambda _: 9) == 2  # an event
    assert "no measurement" in capfd.readouterr().out


def test_the_glance_refuses_what_it_cannot_read(tmp_path, shop):
    assert Ledger(tmp_path / "none.sqlite").entries() == ()
    with pytest.raises(NonnaError):
        Ledger(shop.ledger).reader()(9999)
    assert weakest(kind_of("mill"), (), Ledger(shop.ledger).reader()) is None
    broken = ShopFolder(tmp_path)
    (tmp_path / "ledger.sqlite").write_bytes(b"text" * 100)
    with pytest.raises(NonnaError):
        Ledger(broken.ledger).reader()(1)
    with pytest.raises(NonnaError, match="not a file name"):
        read_bytes(tmp_path / "a\0b")


def test_a_machine_whose_travel_runs_backwards_is_refused(shop):
    document = shop.document("machines", "larch.json")
    document["travel_mm"]["z"] = [0, -560]
    with pytest.raises(NonnaError, match="lowest to the highest"):
        checked(Machine, document)


def test_nothing_on_screen_is_the_demos_own(desk, shop):
    """Another pad and another master than the demo's are what the views speak of."""
    from nonna.desk.actions.by_command import open_shop

    for parts, change in ((("machines", "larch.json"), _wide_pad), (("masters.json",), _other_master)):
        document = shop.document(*parts)
        change(document)
        shop.root.joinpath(*parts).write_text(json.dumps(document))
    open_shop(desk, shop.root)
    settle(desk)
    QApplication.processEvents()  # the new jobs become visible
    assert "Gauge pin 12" in shown_text(desk.loop)
    assert "Master tool 16" not in shown_text(desk.loop)
    assert desk.state.pad_mm == 4.0
    desk.go(CommandId.TOOLS)
    row = next(i for i, r in enumerate(desk.tools.model.rows) if r.number == 11)
    desk.tools.table.selectRow(row)  # a 4 mm end mill does not lie on the safe part of a 4 mm pad
    assert "Off centre, turning backwards" in shown_text(desk.tools)


def _wide_pad(machine):
    machine["setter"]["width_x_mm"] = machine["setter"]["width_y_mm"] = 4.0


def _other_master(shelf):
    shelf["masters"][0]["name"] = "Gauge pin 12 × 100"


def test_a_file_that_is_not_there_or_is_there_already_is_said_in_the_dialog(desk, hands, tmp_path):
    hands.mend("level")
    desk.open_link("setter")
    hands.sheet()
    hands.press(Qt.Key.Key_F8)
    dialog = the_dialog(hands)
    dialog.setDirectory(str(tmp_path))
    QTest.keyClicks(dialog.focusWidget(), "no such.json")
    QTest.keyClick(dialog.focusWidget(), Qt.Key.Key_Return)  # the toolkit's own would wait in a box outside the window
    assert dialog.isVisible() and "There is no no such.json here." in shown_text(dialog)
    dialog.reject()
    hands.press(Qt.Key.Key_Escape)
    there, written = tmp_path / "list.pdf", []
    there.write_text("old")
    dialog = ask_where(desk, "Bench list", str(there), "PDF (*.pdf)", written.append)
    assert shown_dialog(desk, type(dialog)) is dialog
    dialog.accept()
    assert dialog.isVisible() and written == [] and "list.pdf is there already" in shown_text(dialog)
    dialog.accept()
    assert not dialog.isVisible() and written == [there]


def test_the_worker_reads_all_that_pages_rest_on_and_nothing_of_the_toolkit():
    code = (
        "import sys, types, nonna.desk.start.window_making as _\n"
        "from importlib import import_module\n"
        "from nonna.desk.start import preloading as p\n"
        "for name in p.behind(): import_module(name)\n"
        "from nonna.procedures.catalogue import procedure\n"
        "from nonna.procedures.listing import PROCEDURES\n"
        "for name in PROCEDURES: procedure(name)\n"
        "import nonna.procedures.entry\n"
        "qt = {n for n, m in sys.modules.items() if n.startswith('nonna.desk.') and type(m) is types.ModuleType}\n"
        "before = set(sys.modules)\n"
        "for name in p.pages(): import_module(name).__name__\n"
        "new = {m for m in set(sys.modules) - before if m.startswith('nonna.') and not m.startswith('nonna.desk')}\n"
        "print(sorted(new), sorted(qt & {'nonna.desk.pages.sheet.view', 'nonna.desk.pages.tools.view', "
        "'nonna.desk.pages.book.view'}))\n"
    )
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=120)
    assert told.stdout.strip() == "[] []"
