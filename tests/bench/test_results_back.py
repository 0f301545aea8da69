"""What a machine gives back: the parameters of our own program without a question, bad rows that hold nobody up."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit

from nonna.bench.job.programs_written import WRITTEN, left_in
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.overlay import layers
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.tray.by_command import save_program
from nonna.desk.tray.machine_results import read_results
from nonna.desk.tray.tables_in import read_table
from nonna.errors import NonnaError
from nonna.programs.writing.results import LeftIn, from_parameters
from nonna.shop.links.subjects import tool
from tests.support.hands import settled, shown_dialog, shown_text, worked

SPOTS = (LeftIn(2, "z", 1001, 3, "T2 top"), LeftIn(5, "z", 1004, 2, "T5 top"), LeftIn(5, "x", 1006, 1, "T5 +x"))
LINES = ("#{i} = {v}", "#{i}={v}", "{i};{v}", "#[{i}] {v} mm", "{i}\t{v}", " #{i} : {v} (left by the program)")


@given(st.lists(st.floats(-900, 900), min_size=6, max_size=6), st.sampled_from(LINES), st.booleans(), st.randoms())
def test_a_print_out_is_read_as_a_machine_prints_it(values, line, comma, order):
    lines = [line.format(i=1001 + i, v=f"{v:.4f}".replace(".", "," if comma else ".")) for i, v in enumerate(values)]
    lines += ["#5063 = 12.5", "O1234", "", "#1000 = 3", "#10011 = 1"]
    order.shuffle(lines)
    found = from_parameters("\n".join(lines), SPOTS)
    assert [(t.tool, t.axis) for t in found.rows] == [(2, "z")] * 3 + [(5, "z")] * 2 + [(5, "x")]
    assert [t.position_mm for t in found.rows] == pytest.approx(values, abs=1e-4) and found.wrong == ()


def test_what_is_missing_or_stands_there_twice_is_named_and_its_tool_left_out():
    lines = [f"#{1001 + i} = {i}" for i in range(5)]
    found = from_parameters("\n".join(lines), SPOTS)
    assert {t.tool for t in found.rows} == {2} and "#1006, T5 +x: missing" in found.wrong[0].message
    found = from_parameters("\n".join([*lines, "#1006 = 1", "#1002 = 9"]), SPOTS)
    assert {t.tool for t in found.rows} == {5} and "two values" in found.wrong[0].message
    assert from_parameters("#1002 = 1\n#1002 = 1\n#1001=0\n#1003=0", SPOTS[:1]).wrong == ()  # the same once more
    assert from_parameters("tool,position_mm\n1001,x", SPOTS) is None and from_parameters("#7 = 1", SPOTS) is None


def planned(desk, hands):
    desk.do(CommandId.TOOLS)
    settled(desk, hands)
    hands.until(lambda: desk.tools.controller.answer is not None and not desk.tools.controller.busy)
    return desk.tools.controller


def test_f8_reads_what_our_own_program_leaves(desk, hands, shop, tmp_path):
    c = planned(desk, hands)
    save_program(desk, tmp_path / "measure.ngc")
    worked(desk)
    hands.until(lambda: shop.has(WRITTEN))
    spots = left_in(shop, "Larch")
    assert spots and all(f"#{s.first}" in (tmp_path / "measure.ngc").read_text() for s in spots)
    true = {p.tool.number: p.tool.length_mm for p in c.answer.plan.tools if not p.refused}
    plane = shop.machine("larch").setter.trigger_plane_mm
    lines = [f"#{s.first + i} = {plane + true[s.tool]:.3f}" for s in spots for i in range(s.count)]
    (tmp_path / "print.txt").write_text("\n".join(lines))
    read_results(desk, tmp_path / "print.txt")
    worked(desk)
    settled(desk, hands)
    assert shown_dialog(desk, NoteDialog) is None  # nothing is asked
    assert {r.subject for r in c.tray.results} == {tool(s.tool) for s in spots}
    (tmp_path / "other.txt").write_text("Tool 2 at -340.1\n")
    read_results(desk, tmp_path / "other.txt")
    hands.until(lambda: shown_dialog(desk, NoteDialog) is not None)  # another's: how its lines read is asked


def test_a_bad_row_of_results_holds_nobody_up(desk, hands, tmp_path):
    c = planned(desk, hands)
    rows = [
        "tool,position_mm",
        *(f"2,{-340.1 - i / 1000}" for i in range(3)),
        "3,lots",
        *(f"5,{-360.2}" for i in range(3)),
    ]
    (tmp_path / "r.csv").write_text("\n".join(rows))
    read_results(desk, tmp_path / "r.csv")
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    assert "row 5" in shown_text(shown_dialog(desk, QuestionDialog)) and not c.tray.results
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not layers(desk))
    assert not c.tray.results
    read_results(desk, tmp_path / "r.csv")
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    hands.enter()
    settled(desk, hands)
    hands.until(lambda: len(c.tray.results) == 2)


def test_a_bad_row_of_tools_is_shown_before_the_others_are_taken(desk, hands, tmp_path):
    c = planned(desk, hands)
    before = len(c.tray.tools)
    (tmp_path / "t.csv").write_text(
        "number,kind,diameter_mm,length_mm\n61,drill,8,110\n62,drill,wide,90\n63,drill,5,88\n"
    )
    read_table(desk, tmp_path / "t.csv")
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    assert "row 3" in shown_text(shown_dialog(desk, QuestionDialog)) and len(c.tray.tools) == before
    hands.enter()
    hands.until(lambda: len(c.tray.tools) == before + 2)
    (tmp_path / "all.csv").write_text("number,kind,diameter_mm,length_mm\n71,drill,wide,110\n")
    read_table(desk, tmp_path / "all.csv")
    hands.until(lambda: "Nothing was taken" in shown_text(desk.tools))


def test_saving_offers_a_name_that_is_chosen_and_the_program_page_says_what_was_written(desk, hands, tmp_path):
    planned(desk, hands)
    desk.do(CommandId.TRAY_REHEARSAL)
    hands.until(lambda: desk.tools.rehearsing)
    desk.do(CommandId.TRAY_PROGRAM)
    hands.until(lambda: bool(layers(desk)))

    def line():
        dialog = shown_dialog(desk, QFileDialog)
        return (
            next((w for w in dialog.findChildren(QLineEdit) if w.objectName() == "fileNameEdit"), None)
            if dialog
            else None
        )

    hands.until(lambda: line() is not None and line().selectedText() == "measure-tools")
    assert QApplication.focusWidget() is line()
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not layers(desk))
    save_program(desk, tmp_path / "p.ngc")
    worked(desk)
    hands.until(lambda: "p.ngc written" in desk.banner.words.text())


def test_what_is_kept_of_a_program_is_refused_by_name_where_it_is_damaged(shop):
    (shop.root / WRITTEN).write_text('{"Larch": {"spots": [{"tool": "two"}]}}')
    with pytest.raises(NonnaError, match=WRITTEN):
        left_in(shop, "Larch")
    assert left_in(shop, "Rowan") == ()
