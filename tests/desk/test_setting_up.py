"""A shop from nothing: pages answered by keyboard, slips and what nobody knows, then a first length with its
certificate.
"""

import json
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from nonna.bench.founding.interview import Interview
from nonna.bench.session.tray.picture import panel
from nonna.bench.sheet.judging import Judged, sign_all
from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.signing import STANDIN
from nonna.bench.sheet.standin_jobs import job_of, measured
from nonna.bench.station.site import Site
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.signing.certificate_out import write_certificate
from nonna.desk.start.welcome import Welcome
from nonna.desk.start.window_making import make_window
from nonna.desk.tray.machine_results import read_results
from nonna.desk.tray.tables_in import read_table
from nonna.errors import NonnaError
from nonna.procedures.session import Session
from nonna.shop.cards.kinds import station_kinds
from nonna.shop.links.subjects import SETTER, tool
from nonna.standin.world import World
from nonna.stations.kind import kind_of
from nonna.wording.lengths import Units
from tests.support.founding import MM, answer, begun
from tests.support.hands import Hands, choose, settled, shown_text, worked

INCH = {
    **MM, "units": "2", "travel_x": "23.6", "travel_y": "15.75", "travel_z": "19.7", "pad": "0.55",
    "overtravel": "0.157",
    "setter_x": "-1.97", "setter_y": "1.97", "setter_z": "-11.8", "master_length": "4.7244",
    "certified_length": "4.72453",
    "U": "0.8um", "diameter": "16 mm",
}  # fmt: skip


@pytest.fixture
def pages(qtbot, qapp, tmp_path):
    return begun(qtbot, qapp, tmp_path / "shop")


def test_a_mill_from_nothing_by_keyboard_to_three_lengths_and_a_certificate(pages, qtbot, tmp_path):
    welcome, asked = pages
    assert "1   mm" in shown_text(asked) and "Mm" not in shown_text(asked)
    assert answer(asked, MM) < 60
    assert "Taken as usual until somebody knows" in shown_text(asked) and not (tmp_path / "shop").exists()
    for _ in range(2):  # a second Enter while it is written begins nothing more
        QTest.keyClick(asked, Qt.Key.Key_Return)
    worked(welcome)
    assert welcome.folder is not None and welcome.result() == Welcome.DialogCode.Accepted
    window = make_window(welcome.folder, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    at = Hands(window, qtbot)
    at.until(lambda: window.site is not None)
    machine = World.from_seed(7)  # stands for the real one: what it says comes in by files alone

    def readings(name, subject):
        site = Site.load(welcome.folder)
        session = Session(name, prepared(site, name, subject).facts)
        return session, measured(job_of(site, session), machine).readings

    session, rows = readings("setter-calibration", SETTER)
    (tmp_path / "setter.json").write_text(json.dumps(session.facts.document("setter-calibration", list(rows))))
    window.open_link("setter")
    at.sheet()
    at.press(Qt.Key.Key_F8)
    choose(at, tmp_path / "setter.json")
    worked(window)
    at.until(lambda: window.sheet.controller.session.evaluate() is not None and not window.sheet.controller.busy)
    at.enter()
    at.until(lambda: [e.name for e in window.state.entries] == ["setter-calibration", "cards-begun"])
    at.enter()
    at.until(lambda: window.sheet is None)

    table = "number,kind,diameter_mm,length_mm\n1,drill,8,110\n2,end-mill,10,95\n3,drill,5,88\n"
    (tmp_path / "tools.csv").write_text(table)
    read_table(window, tmp_path / "tools.csv")
    worked(window)
    settled(window, at)
    assert [t.number for t in window.tools.controller.tray.tools] == [1, 2, 3]
    lines = [f"{n},{row['position_mm']}" for n in (1, 2, 3) for row in readings("tool-length", tool(n))[1]]
    (tmp_path / "lengths.csv").write_text("\n".join(["tool,position_mm", *lines]))
    read_results(window, tmp_path / "lengths.csv")
    worked(window)
    settled(window, at)
    rows = window.tools.controller.tray.results
    assert [str(r.subject) for r in rows] == ["T1", "T2", "T3"]
    for row, true in zip(rows, (110.0, 95.0, 88.0), strict=True):
        assert abs(row.value_mm - true) < 0.1, shown_text(window.tools)
    told = []
    window.tools.controller.said.connect(lambda words, tone: told.append(words))
    window.tools.controller.accept({r.subject for r in rows})
    at.until(lambda: len(window.state.entries) == 5)
    at.until(lambda: told == ["Signed as records 3 to 5."])
    write_certificate(window, 3, tmp_path / "first.pdf")
    at.until(lambda: (tmp_path / "first.pdf").exists())
    assert (tmp_path / "first.pdf").read_bytes().startswith(b"%PDF") and welcome.folder.book.verify().sound


def test_the_same_mill_in_inches_with_two_slips_and_what_nobody_knows_yet(pages, tmp_path):
    welcome, asked = pages
    slips = {"travel_x": "600", "setter_x": "1.97"}  # millimetres; and the wrong sign
    count = answer(asked, {**INCH, "U": None}, slips)
    assert count == answer_count(INCH) + 2
    QTest.keyClick(asked, Qt.Key.Key_Return)
    worked(welcome)
    machine, shelf = welcome.folder.machine("birch"), welcome.folder.shelf()
    assert machine.travel_mm.x == pytest.approx([-599.44, 0.0]) and machine.setter.width_x_mm == pytest.approx(13.97)
    assert shelf.masters[0].length_mm == pytest.approx(120.003, abs=1e-4) and not shelf.masters[0].traceable


def answer_count(answers):
    """How many questions there are for these answers."""
    now = Interview()
    while now.question is not None:
        choices = ("yes", "no") if now.question.sort == "yes" else now.question.choices
        said = answers.get(now.question.key, "")
        now = now.answered(choices[int(said) - 1] if choices and said else said)
    return len(now.questions)


def test_a_slip_is_named_and_what_was_typed_stays(pages):
    _, asked = pages
    wanted = {key: said for key, said in MM.items() if key in ("units", "shop", "operator", "kind", "name")}
    while asked.interview.question.key in wanted:
        said = wanted[asked.interview.question.key]
        QTest.keyClicks(asked.entry if asked.entry.isVisible() else asked, said)
        if asked.entry.isVisible() and asked.interview.question.key != "travel_x":
            QTest.keyClick(asked.entry, Qt.Key.Key_Return)
    asked.entry.clear()
    QTest.keyClicks(asked.entry, "23.6")
    QTest.keyClick(asked.entry, Qt.Key.Key_Return)
    assert "599.44 mm" in shown_text(asked) and asked.entry.text() == "23.6"
    asked.entry.clear()
    QTest.keyClick(asked.entry, Qt.Key.Key_PageDown)
    assert "Nothing goes on without it" in shown_text(asked)
    QTest.keyClicks(asked.entry, "600")
    QTest.keyClick(asked.entry, Qt.Key.Key_Return)
    QTest.keyClick(asked.entry, Qt.Key.Key_PageUp)
    assert asked.interview.question.key == "travel_x" and asked.entry.text() == "600"


@pytest.mark.parametrize("kind", [k for k in station_kinds() if kind_of(k).questions])
@pytest.mark.parametrize("units", ["mm", "inch"])
def test_every_kind_can_be_set_up_with_what_is_needed_alone(kind, units):
    now = Interview().answered(units)
    while (question := now.question) is not None:
        drawn = kind_of(kind).drawn
        if drawn is not None:
            assert drawn(now.answers, question.key, now.units).strokes
        if not question.needed:
            now = now.answered("")
        elif question.key == "kind":
            now = now.answered(kind)
        else:
            now = now.answered("Name" if question.sort == "text" else "100 mm" if question.most > 300 else "5 mm")
    assert now.units is (Units.INCH if units == "inch" else Units.MM)
    assert now.found().documents["machines", "name.json"]["kind"] == kind


def test_going_back_and_answering_again_loses_nothing():
    now = Interview()
    for said in ("mm", "Our shop", "A. Person", "mill", "Birch", "600", "400", "500", "14", "4", "high end"):
        now = now.answered(said)
    there = now.at
    while now.at:
        now = now.back()
    assert now.typed == "mm"
    while now.at < there:
        now = now.answered(now.typed)
    for _ in range(2):
        now = now.answered("")  # zero in Y and Z
    with pytest.raises(NonnaError, match="outside the travel"):
        now.answered("50")
    assert now.tried("50")["setter_x"] == 50.0 and "setter_x" not in now.said
    with pytest.raises(NonnaError, match="cannot be"):
        now.answered("99999")


def test_the_stand_in_only_rehearses_in_a_real_shop(desk, hands, shop, tmp_path):
    """What it reads is named so on the sheet and is signed by no way there is; typed readings are."""
    real = Site.load(shop)
    object.__setattr__(desk.site, "shop", real.shop.model_copy(update={"invented": False}))
    before = len(desk.state.entries)
    desk.open_link("repeatability")
    sheet = hands.sheet()
    assert any(b.text() == "Rehearse F7" for b in sheet.findChildren(QPushButton))
    hands.standin()
    assert "A rehearsal" in shown_text(sheet) and sheet.numbers.sign.text() == "Rehearsed, not signed"
    hands.enter()
    hands.until(lambda: not sheet.controller.busy)
    assert sheet.controller.receipt is None and "never signed in a real shop" in shown_text(sheet)
    sheet.controller.undo()
    assert "A rehearsal" not in shown_text(sheet)
    readings = [{"value_mm": 0.001 * (k % 3)} for k in range(25)]
    (tmp_path / "real.json").write_text(json.dumps(sheet.controller.session.facts.document("repeatability", readings)))
    sheet.controller.from_file(tmp_path / "real.json")
    worked(desk)
    sheet.controller.sign()
    hands.until(lambda: sheet.controller.receipt is not None)
    assert len(shop.book.entries()) == before + 1
    session = Session("tool-length", prepared(real, "tool-length", tool(2)).facts)
    rehearsed = session.take_all(
        [{"position_mm": -340.0 + 0.0001 * k} for k in range(3)], STANDIN, "2026-03-02T08:00:00+00:00"
    )
    opening, result = prepared(real, "tool-length", tool(2)), rehearsed.evaluate()
    judged = Judged(tool(2), "tool-length", rehearsed, opening, result, site=desk.site)
    with pytest.raises(NonnaError, match="never signed in a real shop"):
        sign_all([judged], "K. Amsel")
    c = desk.tools.controller
    state = panel(
        replace(c.tray, results=(judged,)), None, None, c.machine, Units.MM, planning=None, busy=False, progress=None
    )
    assert state.action == "" and "nothing of it is signed" in state.words
    assert len(shop.book.entries()) == before + 1


def test_shops_that_were_opened_are_offered_again(qtbot, qapp, tmp_path, shop):
    settings = DeskSettings(tmp_path / "desk.ini")
    gone = tmp_path / "gone"
    for path in (gone, shop.root, shop.root):
        settings.remember_shop(path)
    assert DeskSettings(tmp_path / "desk.ini").recent == (shop.root,)
    welcome = Welcome(tmp_path / "none", settings.recent)
    qtbot.addWidget(welcome)
    again = next(b for b in welcome.findChildren(QPushButton) if "again" in b.text())
    QTest.mouseClick(again, Qt.MouseButton.LeftButton)
    worked(welcome)
    assert welcome.folder == shop and welcome.result() == Welcome.DialogCode.Accepted
