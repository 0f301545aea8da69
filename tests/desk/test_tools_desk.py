"""The tray driven as hands would: eight tools from the table to the written table, and everything that can be decided
there.
"""

import json
import re
import threading
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from nonna.bench.job.measuring import judged_of
from nonna.bench.tables.files import tools_in
from nonna.bench.tray.tray import Tray, numbers_in
from nonna.desk.actions.by_command import open_shop
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.pages.tools.forms.checks_dialog import ADVICE, ChecksDialog
from nonna.desk.pages.tools.forms.lengths_dialog import LengthsDialog
from nonna.desk.pages.tools.model import WAS
from nonna.desk.start.tour import Tour
from nonna.desk.tray.by_command import save_program
from nonna.desk.tray.machine_results import read_results
from nonna.desk.tray.tables_in import read_table
from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate
from nonna.procedures.telling import words_of
from nonna.shop.cards.machine import Tool
from nonna.shop.links.subjects import Subject
from nonna.shop.reason import Reason
from nonna.stations.mill.standin.batch import Found
from nonna.stations.mill.tool_program import outcome_of
from nonna.stations.touched_tools import Wish
from tests.support.hands import PATIENCE, record_of, settle, settled, shown_dialog, shown_text, worked
from tests.support.ledgers import Ledger

NAMES = tuple(f"T{n}" for n in (2, 3, 4, 5, 7, 9, 11, 14))


def dialog(desk, kind=FormDialog):
    return shown_dialog(desk, kind)


def go_to(tray, subject):
    tray.table.go_to(int(subject.removeprefix("T")))
    tray.table.setFocus()


def test_eight_tools_from_plan_to_written_table_by_keyboard(tray, desk, hands, tmp_path):
    hands.keys.clear()
    assert tray.controller.marked == (2, 3, 4, 5, 7, 9, 11, 14)
    assert "Rehearsed: clean" in shown_text(tray) and "by hand about 22 min" in shown_text(tray)
    hands.press(Qt.Key.Key_Down)
    hands.press(Qt.Key.Key_Down)
    assert tray.table.number == 4 and "Off centre, turning backwards" in shown_text(tray)
    assert "M4" in shown_text(tray) and "finger on feed hold" in shown_text(tray)
    hands.press(Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    page = tray.rehearsal
    assert page.isVisible() and "G38.2" in page.text.toPlainText()
    hands.press(Qt.Key.Key_Right)
    hands.press(Qt.Key.Key_PageDown)
    assert page.strip.at > 0 and f"block {page.strip.point.line} " in shown_text(page)
    said = [page.problems.item(i).text() for i in range(page.problems.count())]
    at = next(i for i, words in enumerate(said) if "T4: L 61.20" in words)
    page.problems.setCurrentRow(at)  # a result leads to its tool as a problem leads to its block
    assert page.strip.point.tool == 4
    hands.press(Qt.Key.Key_Escape)
    assert not tray.rehearsing
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    assert "All 8 are sound" in shown_text(tray)
    before = len(desk.state.entries)
    hands.press(Qt.Key.Key_Return)
    assert len(desk.state.entries) == before + 8
    assert all(r.accepted for r in tray.model.rows)
    entry = next(e for e in reversed(desk.state.entries) if str(e.subject) == "T4")
    body = record_of(desk, entry.number)
    assert evaluate(body["input"]).to_document() == body["result"]
    assert "M4" in body["measuring_program"] and body["input"]["setup"]["feed_per_rev_mm"] > 0
    assert {row["source"] for row in body["tape"]} == {"stand-in"}
    assert Ledger(desk.folder.ledger).verify().sound
    assert "new lengths are in the book" in shown_text(tray)
    hands.press(Qt.Key.Key_Return)  # asks where
    for name in ("t.csv", "t.json", "t.xml"):
        tray.write_table(tmp_path / name)
    worked(desk)
    now = {r.number: r.now for r in tray.model.rows}
    assert {t.number: t.length_mm for t in tools_in("t.json", (tmp_path / "t.json").read_bytes())} == now
    assert tools_in("t.xml", (tmp_path / "t.xml").read_bytes()) == tools_in(
        "t.json", (tmp_path / "t.json").read_bytes()
    )
    assert len(hands.keys) < 16


def test_a_pulled_out_and_a_broken_tool_are_found(tray, desk, hands):
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    hands.press(Qt.Key.Key_Return)
    desk.world().longer = {9: 0.55, 14: -0.7, 11: -60.0}
    go_to(tray, "T9")
    hands.press(Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hands.press(Qt.Key.Key_B)
    hands.press(Qt.Key.Key_L)
    settled(desk, hands)
    assert tray.controller.tray.measures_of(9) == {"breakage"}
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    states = {str(r.subject): r.state for r in tray.controller.tray.results}
    assert states == dict.fromkeys(NAMES, "ok") | {"T9": "pulled-out", "T14": "broken", "T11": "missing"}
    assert "5 sound, 3 to look at" in shown_text(tray)
    hands.press(Qt.Key.Key_Return)
    assert {str(r.subject) for r in tray.controller.tray.results} == {"T9", "T14", "T11"}
    go_to(tray, "T14")
    hands.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert desk.state.entries[-1].verdict == "fail" and desk.state.entries[-1].name == "breakage"
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "Undone" in shown_text(tray)
    desk.do(CommandId.SHOW_FAULT)
    assert "T9 was pulled out" in shown_text(desk)
    desk.do(CommandId.TRAY_SPOIL)
    assert len(desk.world().longer) == 1


def test_wrong_tool_setter_and_break_off(tray, desk, hands):
    desk.world().longer = {5: 1.8}
    c = tray.controller
    go_to(tray, "T5")
    tray.mark((2, 5))
    settled(desk, hands)
    hands.press(Qt.Key.Key_F7)
    settled(desk, hands)
    doubtful = next(r for r in c.tray.results if str(r.subject) == "T5")
    assert "the wrong tool in the pocket" in words_of(doubtful.suspicion) and "1 to look at" in shown_text(tray)
    tray.controller.undo()
    assert c.tray.results == ()
    desk.world().longer = {2: -60.0}
    desk.do(CommandId.TRAY_JOB)
    form = dialog(desk)
    for bad, words in (
        ({"touches": "0"}, "1 to 100"),
        ({"touches": "3", "accuracy": "x"}, "not a length"),
        ({"accuracy": "1"}, "Accuracy"),
        ({"accuracy": "2um", "by_hand": "0"}, "more than nothing"),
    ):
        form.put(bad)
        form.submit()
        assert words in shown_text(form)
    form.put({"touches": "2", "accuracy": "5um", "dialect": "branch", "go_on": "no", "by_hand": "3"})
    form.submit()
    settled(desk, hands)
    assert "G31" in c.answer.text and c.tray.touches == 2 and shown_dialog(desk, FormDialog) is None
    hands.press(Qt.Key.Key_F7)
    settled(desk, hands)
    assert [str(r.subject) for r in c.tray.results] == ["T2"] and c.tray.results[0].failed  # broken off after the first
    c.accept()
    settle(desk)
    assert "Look at each" in shown_text(tray)


def test_tables_come_in_and_can_be_undone(tray, desk, hands, shop, tmp_path):
    c, before = tray.controller, tray.controller.tray.tools
    foreign = tmp_path / "list.csv"
    foreign.write_text("Tool;Name;D;Length\n60;Drill 5;5,0;about 80\n2;Drill 8.5;8,5;4,426\n")
    read_table(desk, foreign)
    worked(desk)
    form = dialog(desk)
    assert "decimal comma" in shown_text(form) and "T60 drill 5 × 80 mm" in shown_text(form)
    form.put({"comma": "no"})
    form.submit()
    assert "row 2" in shown_text(form) and c.tray.tools == before
    form.put({"comma": "yes"})
    form.submit()
    assert not form.isVisible() and len(c.tray.tools) == 9
    assert c.tray.tool(60).length_uncertainty_mm == 5.0
    worked(desk)
    assert len(json.loads((shop.root / "tools" / "larch.json").read_text())["tools"]) == 9
    settle(desk)
    go_to(tray, "T2")
    assert "shorter than any holder" in shown_text(tray)
    hands.press(Qt.Key.Key_T)
    assert c.tray.tool(2).length_mm == pytest.approx(112.42, abs=0.01)
    go_to(tray, "T60")
    assert "48 pockets" in shown_text(tray)
    rough = next(row for row in tray.shown.rows if row.number == 60)
    assert tray.model.words_in(rough, WAS) == "about 80"
    for _ in range(2):
        hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert c.tray.tools == before
    assert len(json.loads((shop.root / "tools" / "larch.json").read_text())["tools"]) == 8
    read_table(desk, foreign)  # the mapping was remembered: nothing is asked
    worked(desk)
    assert len(c.tray.tools) == 9
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    for name, text, words in (
        ("x.xml", "<a", "not XML"),
        ("x.json", "{", "not JSON"),
        ("x.csv", "hello", "no table"),
        ("none.csv", None, "no file"),
    ):
        if text is not None:
            (tmp_path / name).write_text(text)
        read_table(desk, tmp_path / name)
        worked(desk)
        assert words in shown_text(tray) and c.tray.tools == before


def test_tools_are_edited_added_cleared_and_taken_out(tray, desk, hands):
    c = tray.controller
    go_to(tray, "T9")
    hands.press(Qt.Key.Key_E)
    form = dialog(desk)
    form.put({"length_mm": "roughly"})
    form.submit()
    assert "no length" in shown_text(form) and form.values()["length_mm"] == "roughly"
    form.put({"length_mm": "about 72", "number": "5"})
    form.submit()
    assert "in the tray already" in shown_text(form)
    form.put({"number": "9", "diameter_mm": "0.25in"})
    form.submit()
    tool = c.tray.tool(9)
    assert (tool.diameter_mm, tool.length_mm, tool.length_uncertainty_mm) == (6.35, 72.0, 5.0)
    hands.until(lambda: "Another tool, or the same?" in shown_text(dialog(desk)))
    dialog(desk).submit()
    hands.press(Qt.Key.Key_N)
    form = dialog(desk)
    form.put({"number": "20", "kind": "probe", "diameter_mm": "6", "length_mm": "121.5", "flutes": "1.5"})
    form.submit()
    assert "whole number" in shown_text(form)
    form.put({"flutes": ""})
    form.submit()
    desk.do(CommandId.TRAY_CLEAR)
    assert {t.number for t in c.tray.tools if t.length_mm is not None} == {20}  # the probe's own row is left alone
    tray.mark((20, 14, 9))
    for subject, words in (("T20", "probe and masters do"), ("T14", "Ctrl+Z brings it back")):
        settle(desk)
        go_to(tray, subject)
        hands.press(Qt.Key.Key_Delete)
        assert words in shown_text(tray)
    assert {t.number for t in c.tray.tools} == {2, 3, 4, 5, 7, 9, 11, 20}  # only the one under the cursor goes
    settle(desk)
    go_to(tray, "T11")
    hands.press(Qt.Key.Key_D)  # not marked: it is meant alone
    assert [n for n in (9, 11) if "diameter" in c.tray.measures_of(n)] == [11]
    desk.go(CommandId.BOOK)
    hands.press(Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert QApplication.focusWidget() is desk.book.search
    desk.go(CommandId.TOOLS)
    tray.search.setText("2-9, 20")
    assert [r.number for r in tray.shown.rows] == [2, 3, 4, 5, 7, 9, 20]
    tray.search.setText("mill face")
    assert [r.number for r in tray.shown.rows] == [4]
    tray.mark_shown()
    assert 4 in c.marked
    tray.mark_shown()
    assert 4 not in c.marked
    tray.search.setText("nothing like it")
    assert tray.table.number is None
    tray.refresh_tool()
    hands.press(Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert QApplication.focusWidget() is tray.search
    assert numbers_in("T3 - 5,9") == (range(3, 6), range(9, 10)) and numbers_in("mill 5") is None
    with pytest.raises(NonnaError):
        Tray((tool,)).with_tool(tool)


def test_a_touch_is_decided_by_hand_with_its_reason(tray, desk, hands):
    c = tray.controller
    go_to(tray, "T5")
    hands.press(Qt.Key.Key_O)
    form = dialog(desk)
    form.put({"method": "offset-rotating", "side": "-y", "distance": "40"})
    form.submit()
    assert "Say why" in shown_text(form)
    form.put({"reason": "worn at +x"})
    form.submit()
    assert "past the pad" in shown_text(form)
    form.put({"distance": "6.5"})
    form.submit()
    settled(desk, hands)
    assert c.tray.wishes == {5: Wish("offset-rotating", "-y", 6.5, "worn at +x")}
    assert "worn at +x" in shown_text(tray) and c.answer.of(5).choice.offset_mm == (0.0, -6.5)
    assert c.answer.rehearsal.clean
    again = type(c)(desk)
    again.load_from_site()
    assert again.tray.wishes == c.tray.wishes  # remembered in the shop
    hands.press(Qt.Key.Key_O)
    dialog(desk).put({"reason": ""})
    dialog(desk).submit()
    assert c.tray.wishes == {}


def test_results_of_a_real_machine(tray, desk, hands, tmp_path):
    (tmp_path / "r.csv").write_text("tool,position_mm\n2,-339.9992\n2,-339.9987\nT5,-360.30\n")
    read_results(desk, tmp_path / "r.csv")
    worked(desk)
    settled(desk, hands)
    rows = {str(r.subject): r for r in tray.controller.tray.results}
    assert rows["T2"].value_mm == pytest.approx(112.42, abs=0.03) and rows["T2"].session.rows[0].source == "file r.csv"
    assert rows["T5"].value_mm is not None
    tray.controller.undo()
    tray.controller.change(tray.controller.tray.with_measure({2}, "breakage").with_measure({2}, "length"))
    settled(desk, hands)
    read_results(desk, tmp_path / "r.csv")  # what was planned as a check is judged as one
    worked(desk)
    settled(desk, hands)
    assert [(str(r.subject), r.name) for r in tray.controller.tray.results] == [
        ("T2", "breakage"),
        ("T5", "tool-length"),
    ]
    tray.controller.undo()
    tray.controller.undo()
    (tmp_path / "r.log").write_text("TOOL 9 at Z -380.4991\nTOOL 9 at Z -380.4989\n")
    read_results(desk, tmp_path / "r.log")
    worked(desk)
    note = dialog(desk, NoteDialog)
    note.line.setText("TOOL {tool} at Z {z}")
    note.line.returnPressed.emit()
    worked(desk)
    settled(desk, hands)
    assert [str(r.subject) for r in tray.controller.tray.results] == ["T9"]
    assert desk.settings.log_pattern == "TOOL {tool} at Z {z}"
    (tmp_path / "s.json").write_text('[{"tool": 99, "position_mm": -300}]')
    read_results(desk, tmp_path / "s.json")
    worked(desk)
    assert "T99 is not in this tray" in shown_text(tray)
    (tmp_path / "bad.json").write_text("[")
    read_results(desk, tmp_path / "bad.json")
    worked(desk)
    assert "not JSON" in shown_text(tray)


def test_a_program_that_stops_is_written_only_with_a_recorded_reason(tray, desk, hands, shop, tmp_path):
    own = shop.root / "templates"
    own.mkdir()  # an empty folder is no templates of its own
    desk.do(CommandId.TRAY_TEMPLATES)
    worked(desk)
    assert (own / "program.j2").exists()
    desk.do(CommandId.TRAY_TEMPLATES)
    hands.until(lambda: "templates are sound" in shown_text(tray))
    text = (own / "program.j2").read_text()
    (own / "program.j2").write_text(text.replace("{{ t.turning }} (BACK", "M3 (BACK"))
    desk.do(CommandId.TRAY_TEMPLATES)
    hands.until(lambda: "wrong in the shop's templates" in shown_text(tray))
    tray.controller.plans.now()
    settled(desk, hands)
    assert "stop" in shown_text(tray.panel)
    hands.press(Qt.Key.Key_F7)
    assert "not run" in shown_text(tray)
    desk.do(CommandId.TRAY_PROGRAM)
    note = dialog(desk, NoteDialog)
    assert "Write it all the same" in shown_text(note)
    note.line.setText("left-hand cutters only here")
    note.line.returnPressed.emit()
    settle(desk)
    assert (desk.state.entries[-1].name, desk.state.entries[-1].kind) == ("program-override", "event")
    save_program(desk, tmp_path / "p.ngc")
    worked(desk)
    assert "M3" in (tmp_path / "p.ngc").read_text()
    save_program(desk, tmp_path / "no" / "p.ngc")
    worked(desk)
    assert "not written" in shown_text(tray)
    (own / "program.j2").write_text("{{ nothing.here }}")
    tray.controller.plans.now()
    settled(desk, hands)
    assert "program.j2 cannot be used" in shown_text(tray)
    desk.do(CommandId.TRAY_PROGRAM)
    assert "Mark tools" in shown_text(tray)


def test_any_program_can_be_rehearsed(tray, desk, hands, tmp_path):
    bad = tmp_path / "foreign.nc"
    bad.write_text("G21 G90\nT2 M6\nG53 G0 X720 Y60\nG53 G0 Z-420\nM2\n")
    tray.show_rehearsal()
    c = tray.controller
    c.plans.open_program(bad)
    hands.until(lambda: c.plans.foreign is not None)
    page = tray.rehearsal
    assert "foreign.nc" in shown_text(page) and "1 stop, 0 warnings." in shown_text(page)
    assert "straight probe dialect" in shown_text(page)
    page.problems.setCurrentRow(0)
    assert "Block 4" in page.problems.item(0).text()
    assert page.text.textCursor().blockNumber() == 3
    hands.press(Qt.Key.Key_Escape)
    assert c.plans.foreign is None and tray.rehearsing
    c.plans.open_program(tmp_path / "none.nc")
    hands.until(lambda: "no file" in shown_text(tray.said_frame) or "no file" in tray.said.text())
    hands.press(Qt.Key.Key_Escape)
    assert not tray.rehearsing


def test_lengths_checks_feeds_and_pieces(tray, desk, hands, shop):
    desk.do(CommandId.TRAY_LENGTHS)
    worked(desk)
    shown = dialog(desk, LengthsDialog)
    assert "trigger plane" in shown_text(shown)
    shown.put({"school": "relative", "reference": "T3"})
    assert "the plane cancels" in shown_text(shown)
    row = next(i for i in range(shown.table.rowCount()) if shown.table.item(i, 0).text() == "T3")
    assert shown.table.item(row, 2).text() == "0.0000"
    shown.put({"school": "probe", "amount": "x"})
    shown.edited.emit(shown.values())
    assert "not a length" in shown_text(shown)
    shown.put({"amount": "-0.5"})
    shown.edited.emit(shown.values())
    assert "counted from probe" in shown.csv_text()
    shown.close()
    desk.do(CommandId.TRAY_CHECKS)
    worked(desk)
    checks = dialog(desk, ChecksDialog)
    assert checks.table.rowCount() == 8
    while checks.table.rowCount() > 3:
        checks.table.setCurrentCell(checks.table.rowCount() - 1, 0)
        checks.remove()
    for at, texts in enumerate(
        (("face mill", "4", "0.05", "5", ""), ("drill", "1", "1", "2", "holes"), ("tap", "1", "0.3", "120", "holes"))
    ):
        for column, text in enumerate(texts):
            checks.table.item(at, column).setText(text)
    assert [checks.table.item(i, ADVICE).text() for i in range(3)] == ["–", "check here, it saves 0.8", "–"]
    assert "without any check" in shown_text(checks)
    checks.table.item(0, 1).setText("often")
    assert "Row 1, Minutes" in shown_text(checks)
    checks.table.item(0, 1).setText("4")
    checks.cost.setText("free")
    checks.keep()
    assert checks.isVisible() and "One check costs" in shown_text(checks)
    checks.cost.setText("0,4")
    checks.keep()
    worked(desk)
    assert len(json.loads((shop.root / "operations.json").read_text())["operations"]) == 3
    desk.do(CommandId.TRAY_CHECKS)
    worked(desk)
    assert dialog(desk, ChecksDialog).table.rowCount() == 3
    dialog(desk, ChecksDialog).close()
    desk.do(CommandId.TRAY_FEEDS)
    feeds = dialog(desk)
    assert "runs on" in shown_text(feeds)
    feeds.put({"overtravel": "0", "tool": "0.02"})
    feeds.edited.emit(feeds.values())
    assert "how small drills break" in shown_text(feeds)
    feeds.put({"deceleration": "0"})
    feeds.edited.emit(feeds.values())
    assert "Machine brakes" in shown_text(feeds)
    feeds.close()
    go_to(tray, "T2")
    hands.press(Qt.Key.Key_B)
    desk.do(CommandId.TRAY_PIECE)
    hands.until(lambda: "check T2" in shown_text(tray))
    assert "G38.2" in QApplication.clipboard().text() and "rehearsed inside a part program" in shown_text(tray)


def test_five_thousand_tools_scroll_and_filter(tray, desk, hands, qtbot):
    many = [
        Tool(
            number=i + 1,
            kind="drill" if i % 3 else "face-mill",
            diameter_mm=3.0 + i % 40,
            length_mm=60.0 + i % 90,
            description=f"Tool {i}",
        )
        for i in range(5000)
    ]
    c = tray.controller
    c.change(c.tray.merged(many))
    settled(desk, hands)
    assert tray.model.rowCount() == 5000
    tray.table.setFocus()
    for text, rows in (("face", 1667), ("face 63", None), ("", 5000), ("100-200", 101), ("", 5000)):
        tray.search.setText(text)
        assert rows is None or tray.shown.rowCount() == rows
    for key in (Qt.Key.Key_PageDown, Qt.Key.Key_End, Qt.Key.Key_Home, Qt.Key.Key_Down):
        QTest.keyClick(tray.table, key)  # how long each takes is told by the benchmark
    assert tray.table.number is not None
    heard = []
    c.planned.connect(lambda: heard.append(shown_text(tray.panel)))
    tray.search.setText("100-220")
    tray.mark_shown()
    settled(desk, hands)
    assert any(f"100 of {len(c.tray.marked)} tools planned." in words for words in heard)


def test_diameters_come_with_lengths(tray, desk, hands):
    tray.mark((5, 7))
    go_to(tray, "T5")
    hands.press(Qt.Key.Key_D)
    settled(desk, hands)
    assert "L+D" in tray.model.cell(3, 3).note
    assert "left out" in " ".join(tray.controller.answer.of(7).reasons)  # a saw has no side to be touched
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    found = {(str(r.subject), r.name): r for r in tray.controller.tray.results}
    assert found["T5", "tool-diameter"].value_mm == pytest.approx(16.0, abs=0.02)
    assert ("T7", "tool-diameter") not in found
    c = tray.controller
    other = outcome_of(Found(5, sides=(("+y", 8.0), ("-y", -8.0))), c.answer.of(5).tool)
    rows = judged_of([other], desk.site, "stand-in", ())
    assert [(r.name, r.session.facts.variant) for r in rows if r.session] == [("tool-diameter", "both-y")]
    assert "Ø 16.0" in tray.model.cell(3, 3).note
    hands.press(Qt.Key.Key_Return)
    assert [e.name for e in desk.state.entries[-3:]] == ["tool-length", "tool-diameter", "tool-length"]
    for _ in range(3):  # three quick checks, then something can be said of wear
        tray.mark((5,))
        tray.controller.change(tray.controller.tray.with_measure({5}, "breakage"))
        settled(desk, hands)
        hands.press(Qt.Key.Key_Return)
        settled(desk, hands)
        hands.press(Qt.Key.Key_Return)
        tray.controller.change(tray.controller.tray.with_measure({5}, "breakage"))
        settled(desk, hands)
    go_to(tray, "T5")
    tray.refresh_tool()
    assert re.search(r"No wear to be seen in 3 checks\.|Wears .+ a check: about \d+ left", shown_text(tray))


def test_every_command_of_the_tray_answers(desk, hands, shop):
    """From the loop, one after another: each opens something or says why not, none breaks, Esc closes it."""
    for do in [d for d in CommandId if d.value.startswith("tray-")]:
        desk.go(CommandId.LOOP)
        desk.do(do)
        for _ in range(3):  # the tray, and what was asked for, each a turn later
            QApplication.processEvents()
        assert desk.places.at(CommandId.TOOLS) or desk.sheet is not None, do
        if desk.sheet is not None:  # by hand: the first of the sheets
            assert desk.sheet.controller.session.name == "tool-length"
            desk._queue = []
            desk.sheet.back()
        QApplication.processEvents()
        for widget in QApplication.topLevelWidgets():
            if widget.isVisible() and widget is not desk:
                widget.close()
        QApplication.processEvents()
    assert desk.isVisible()


def test_the_strip_follows_mouse_and_keys(tray, desk, hands):
    strip = tray.strip
    seen = []
    strip.moved.connect(seen.append)
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=strip.rect().center())
    middle = strip.at
    assert 0 < middle < len(strip.course.path) - 1
    strip.setFocus()
    for key, where in ((Qt.Key.Key_End, len(strip.course.path) - 1), (Qt.Key.Key_Home, 0)):
        QTest.keyClick(strip, key)
        assert strip.at == where
    QTest.keyClick(strip, Qt.Key.Key_PageDown)
    assert strip.point.tool == 2
    QTest.keyClick(strip, Qt.Key.Key_PageUp)
    QTest.keyClick(strip, Qt.Key.Key_A)
    assert seen
    tray.controller.change(tray.controller.tray.with_marks(()))
    settled(desk, hands)
    QApplication.processEvents()
    assert strip.point is None and "No tool is marked" in shown_text(tray)
    tray.show_rehearsal()
    assert "No program" in shown_text(tray.rehearsal)
    hands.press(Qt.Key.Key_F7)
    tray.show_tray()
    assert "Mark tools with Space" in shown_text(tray)


def test_the_rehearsal_is_played_and_looked_at_close_up(tray, desk, hands):
    tray.show_rehearsal()
    page, strip = tray.rehearsal, tray.rehearsal.strip
    probe = next(i for i, p in enumerate(strip.course.path) if p.way == "probe")
    strip.go(probe - 1)  # above the pad, the search still to come
    assert "between the tool and the setter" in shown_text(page) and page.close_up.figure.cut
    wide = page.close_up.figure.window[2] - page.close_up.figure.window[0]
    strip.go(probe)
    assert "the tool touches the setter" in shown_text(page)
    assert page.close_up.figure.window[2] - page.close_up.figure.window[0] < wide
    strip.go(0)
    hands.press(Qt.Key.Key_Space)
    assert strip.playing and "Stop" in shown_text(page)
    hands.until(lambda: strip.now_s > 0.3)
    hands.press(Qt.Key.Key_Space)
    assert not strip.playing
    page.speed.click()
    assert strip.speed == 16 and "× 16" in shown_text(page)
    strip.go_to_time(strip.course.times[-1] - 0.1)
    hands.press(Qt.Key.Key_Space)
    hands.until(lambda: not strip.playing)
    assert strip.at == len(strip.course.path) - 1
    between = strip.course.times[probe] - 0.01
    strip.go_to_time(between)
    assert strip.course.path[probe - 1].z > strip.point.z > strip.course.path[probe].z


def test_where_tools_are_real_enter_never_measures_on_the_stand_in(tray, desk, hands):
    object.__setattr__(desk.site, "shop", desk.site.shop.model_copy(update={"invented": False}))
    tray.refresh()
    assert "Write it" in shown_text(tray)
    hands.press(Qt.Key.Key_Return)
    QApplication.processEvents()
    assert not tray.controller.busy and tray.controller.tray.results == ()
    for widget in QApplication.topLevelWidgets():
        if widget.isVisible() and widget is not desk:
            widget.close()
    assert desk.state.entries[-1].name == "setter-calibration"


def test_measuring_can_be_stopped(tray, desk, hands):
    tray.controller.measure_on_standin()  # by its key it may be done before the key is back
    assert tray.controller.busy
    assert not tray.controller.measure_on_standin()
    hands.press(Qt.Key.Key_Escape)
    settled(desk, hands)
    assert tray.controller.tray.results == () or len(tray.controller.tray.results) == 8  # it may have been too quick
    assert "Stopped" in shown_text(tray) or tray.controller.tray.results


def test_a_threshold_can_be_asked_for_in_plain_numbers(desk, hands):
    desk.open_sheets([("breakage-threshold", Subject.of("Setter"))], CommandId.LOOP)
    sheet = hands.sheet("Setter")
    sheet.toggle_setup()
    edits = {e.accessibleName(): e for e in sheet.form.findChildren(QLineEdit)}
    edit = edits["False alarms wanted"]
    assert edit.text() == "0.001"
    for text, words in (("seldom", "a number is wanted, not 'seldom'"), ("0.01", "")):
        edit.setText(text)
        edit.setModified(True)
        edit.editingFinished.emit()
        assert words in shown_text(sheet.form)
    assert sheet.controller.session.facts.setup["false_alarm"] == 0.01


def test_a_setter_that_does_not_hold_is_said_and_results_are_not_left_by_accident(desk, hands):
    hands.press(Qt.Key.Key_F3)
    settled(desk, hands)
    assert "setter does not hold" in shown_text(desk.tools) and "would not count" in shown_text(desk.tools)
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    assert desk.tools.controller.tray.results
    assert not desk.close()
    assert "The tray's results are not signed yet" in shown_text(desk)
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.tools.controller.tray.results == ()
    hands.mend("level", "setter")
    hands.press(Qt.Key.Key_F3)
    settled(desk, hands)
    assert "would not count" not in shown_text(desk.tools)
    assert desk.close()


def test_inches_and_dark_everywhere_in_the_tray(tray, desk, hands):
    go_to(tray, "T4")
    before = shown_text(tray)
    desk.do(CommandId.THEME)
    desk.do(CommandId.UNITS)
    settled(desk, hands)
    assert "in/min" in shown_text(tray) and "mm/min" in before
    assert tray.model.data(tray.model.index(2, 4)) == "2.40961"
    hands.press(Qt.Key.Key_E)
    form = dialog(desk)
    assert form.values()["length_mm"].startswith("2.409606")
    form.put({"length_mm": "2.41", "diameter_mm": "2.5"})
    form.submit()
    tool = tray.controller.tray.tool(4)
    assert (tool.length_mm, tool.diameter_mm) == (pytest.approx(61.214), 63.5)
    hands.press(Qt.Key.Key_Return)
    settled(desk, hands)
    assert "µin" in tray.model.data(tray.model.index(2, 6))
    tray.show_rehearsal()
    assert " in" in " ".join(tray.rehearsal.problems.item(i).text() for i in range(tray.rehearsal.problems.count()))
    desk.do(CommandId.UNITS)
    desk.do(CommandId.THEME)


def test_a_machine_without_a_setter_measures_nothing(desk, hands, shop):
    document = shop.document("machines", "larch.json")
    shop.root.joinpath("machines", "larch.json").write_text(json.dumps({**document, "setter": None}))
    open_shop(desk, shop.root)
    settle(desk)
    hands.press(Qt.Key.Key_F3)
    settled(desk, hands)
    assert "has no setter" in shown_text(desk.tools)
    hands.press(Qt.Key.Key_F7)
    assert not desk.tools.controller.busy
    desk.do(CommandId.TRAY_FEEDS)
    assert "Fast touch" in shown_text(dialog(desk))
    dialog(desk).close()
    desk.do(CommandId.TRAY_PIECE)
    assert "cursor on a tool" in shown_text(desk.tools)


def test_the_cursor_stays_on_its_tool_when_the_rows_come_anew(tray, desk, hands):
    go_to(tray, "T2")
    for _ in range(3):
        hands.press(Qt.Key.Key_Down)
    here = tray.table.number
    desk.look_again()
    settle(desk)
    assert tray.table.number == here != 2


def test_what_hands_change_in_the_tray_is_shown_before_the_book_is_read(tray, desk, hands):
    go_to(tray, "T2")
    hands.press(Qt.Key.Key_Delete)
    assert 2 not in {row.number for row in tray.model.rows}
    asked = []
    tray.measure_asked.connect(asked.append)
    tray.controller.change(replace(tray.controller.tray, tools=(), marked=frozenset({2})))
    tray.measure_by_hand()
    assert asked == [] and tray.model.rows == ()  # nothing left to measure: nothing opens
    tray.controller.undo()
    settle(desk)


def test_what_was_read_for_another_machine_is_not_taken(tray, desk, hands, tmp_path):
    before = tray.controller.tray
    (tmp_path / "r.csv").write_text("tool,position_mm\n2,-339.9992\n")
    (tmp_path / "t.csv").write_text("number,kind,diameter_mm,length_mm\n60,drill,8,110\n")
    for read in (lambda: read_results(desk, tmp_path / "r.csv"), lambda: read_table(desk, tmp_path / "t.csv")):
        station = desk.station
        read()
        desk.session.station = "rowan"  # the window went on while the file was on its way
        worked(desk)
        desk.session.station = station
        assert tray.controller.tray == before and "nothing was taken" in shown_text(desk)
        desk.tell("", "plain")


def test_a_sheet_that_went_on_while_a_file_was_read_takes_nothing_from_it(desk, hands, setter, tmp_path):
    (tmp_path / "setter.json").write_text(json.dumps(setter))
    desk.open_link("setter")
    sheet = hands.sheet()
    sheet.controller.from_file(tmp_path / "setter.json")
    sheet.controller.enter("-312.4010")
    worked(desk)
    assert [row.source for row in sheet.controller.session.rows] == ["typed"]
    assert "take it once more" in shown_text(sheet)


@pytest.mark.parametrize("ends", ["well", "badly", "never"])
def test_a_window_that_is_closed_waits_for_a_slow_stick(tray, desk, hands, tmp_path, monkeypatch, ends):
    gate, asked = threading.Event(), []

    def slow(path, text):
        asked.append(path)
        assert gate.wait(PATIENCE / 1000)
        if ends == "badly":
            raise NonnaError("unreadable", "The stick is full.", "path")
        path.write_text(text)

    monkeypatch.setattr("nonna.desk.pages.tools.table_file.wiring.write_text", slow)
    tray.write_table(tmp_path / "t.csv")
    hands.until(lambda: bool(asked))
    desk.close()
    assert desk.isVisible() and "on its way" in shown_text(desk)
    if ends == "never":
        desk.close()  # closed again it leaves at once
        assert not desk.isVisible()
    gate.set()
    worked(desk)
    assert desk.isVisible() is (ends == "badly") and (tmp_path / "t.csv").exists() is (ends != "badly")
    assert ends != "badly" or "The stick is full" in shown_text(tray)


def test_the_tour_goes_on_where_a_result_waits_to_be_looked_at(tray, desk, hands):
    c = tray.controller
    hands.enter()
    hands.until(lambda: len(c.tray.results) == len(NAMES))
    first, *rest = c.tray.results
    c.change(replace(c.tray, results=(replace(first, suspicion=Reason("tray.apart", {})), *rest)))
    tour = Tour.__new__(Tour)  # of this window, not of one it makes
    tour.window = desk
    tour.accept()
    assert c.tray.results == () and first.subject in {e.subject for e in desk.state.entries}
