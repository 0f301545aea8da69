"""A shop of one's own, from the first question to a written table: by keyboard, by mouse, on a small screen with large
text.
"""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialogButtonBox, QFileDialog, QLineEdit, QPushButton

from nonna.bench.book.writing import Signature
from nonna.bench.control.runs import runs_of
from nonna.bench.job.planning import program_of
from nonna.bench.job.programs_written import WRITTEN, left_in
from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.standin_jobs import job_of, measured
from nonna.bench.shelf.machine_card import card_of
from nonna.bench.shelf.shelving import put
from nonna.bench.station.site import Site
from nonna.desk.forms.overlay import layers
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.pages.tools.forms.grid_dialog import GridDialog
from nonna.desk.start.window_making import make_window
from nonna.desk.tray.control_way import StoreDialog
from nonna.desk.tray.offsets_dialog import OffsetsDialog
from nonna.procedures.session import Session
from nonna.programs.dialects.listing import dialect_of
from nonna.shop.cards.machine import Tools
from nonna.shop.links.history import STORED
from nonna.shop.links.subjects import ARM, REFERENCE_TOOL, SETTER, tool
from nonna.shop.texts import strict_json
from nonna.standin.control import StandinControl
from nonna.standin.first_tables import first_tables
from nonna.standin.world import World
from tests.support.eyes import unpainted
from tests.support.founding import MM, answer, begun
from tests.support.hands import Hands, settle, settled, shown_dialog, shown_text, turns, worked

SIZES = [(1280, 800), (787, 538)]  # the second: 1024 x 700 at 130 %
ELDER = {
    "units": "1", "shop": "Mill Lane", "operator": "M. Teal", "kind": "2", "name": "Elder", "travel_x": "210",
    "travel_z": "620",
    "stations": "12",
}  # fmt: skip
ROWS = (("1", "drill", "", "8", "110"), ("2", "end mill", "", "10", "95"), ("3", "drill", "", "5", "88"))
TRUE = {1: 110.02, 2: 94.97, 3: 88.01}


@pytest.fixture(params=SIZES, ids=lambda size: f"{size[0]}x{size[1]}")
def size(request):
    return request.param


def founded(qtbot, qapp, tmp_path, answers, size, slips=()):
    """Set a shop up by its questions, then open the desk on it."""
    welcome, asked = begun(qtbot, qapp, tmp_path / "shop")
    answer(asked, answers, slips)
    turns()
    QTest.keyClick(asked, Qt.Key.Key_Return)
    worked(welcome)
    window = make_window(welcome.folder, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.resize(*size)
    window.show()
    at = Hands(window, qtbot)
    at.until(lambda: window.site is not None)
    settle(window)
    return window, at, welcome.folder


class Keyboard:
    """Everything by keys."""

    def __init__(self, window, at):
        self.window, self.at = window, at

    def open(self, link):
        self.at.press(Qt.Key.Key_F2)
        for _ in range(30):
            if self.window.loop.focused_link() == link:
                break
            self.at.press(Qt.Key.Key_Right)
        assert self.window.loop.focused_link() == link
        self.at.enter()
        return self.at.sheet()

    def readings(self, rows, tmp_path, setup=()):
        """Type each value, the temperature of the day first, and what the sheet has to start from."""
        sheet, left = self.window.sheet, list(rows)
        for name, value in dict(setup).items():
            title = sheet.controller.session.procedure.setup_model.model_fields[name].title
            self.at.press(Qt.Key.Key_F9)
            line = next(w for w in sheet.findChildren(QLineEdit) if w.isVisible() and w.accessibleName() == title)
            line.setFocus()
            line.selectAll()
            self.at.enter(f"{value:.4f}")
            self.at.press(Qt.Key.Key_F9)
        if "Temperature" in sheet.numbers.prompt.text():
            self.at.enter("20.4")
            self.at.until(lambda: "Temperature" not in sheet.numbers.prompt.text())
        while (slot := sheet.controller.session.next_slot) is not None:
            row = next(r for r in left if all(r.get(k) == v for k, v in slot.fields.items()))
            left.remove(row)
            for name in sheet.controller.session.procedure.model.value_fields:
                self.at.enter(f"{row[name]:.4f}")
                if sheet.controller.question is not None:
                    self.at.press(Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)

    def sign(self):
        count = len(self.window.state.entries)
        self.at.enter()
        self.at.until(lambda: len(self.window.state.entries) > count)
        self.at.enter()
        self.at.until(lambda: self.window.sheet is None)

    def tools(self, rows):
        self.at.press(Qt.Key.Key_F3)
        settled(self.window, self.at)
        self.at.press(Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
        self.at.until(lambda: shown_dialog(self.window, GridDialog) is not None)
        table = shown_dialog(self.window, GridDialog).table
        for i, row in enumerate(rows):
            for column, text in enumerate(row):
                table.go_to(i, column)
                if text:
                    for letter in text:  # the first one opens the cell
                        self.at.type(letter)
                    self.at.press(Qt.Key.Key_Tab)
        QTest.keyClick(shown_dialog(self.window, GridDialog), Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        self.at.until(lambda: not layers(self.window))
        settled(self.window, self.at)

    def next(self):
        """Do what the panel offers."""
        self.window.tools.table.setFocus()
        self.at.enter()

    def results(self):
        self.at.press(Qt.Key.Key_F8)

    def command(self, do, key):
        """A command by its key."""
        del do
        self.at.press(key, Qt.KeyboardModifier.ControlModifier)

    def file(self, path):
        line = self._line()
        line.clear()
        QTest.keyClicks(line, str(path))
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.at.until(lambda: shown_dialog(self.window, QFileDialog) is None)

    def _line(self):
        self.at.until(lambda: shown_dialog(self.window, QFileDialog) is not None)
        dialog = shown_dialog(self.window, QFileDialog)
        return next(w for w in dialog.findChildren(QLineEdit) if w.objectName() == "fileNameEdit")


class Mouse(Keyboard):
    """The same by mouse; only names and numbers are typed."""

    def click(self, widget, at=None):
        turns()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at or QPoint())
        settle(self.window)

    def button(self, words, inside=None):
        def there():
            return [
                b
                for b in (inside or self.window).findChildren(QPushButton)
                if b.isVisible() and b.text().startswith(words)
            ]

        self.at.until(lambda: bool(there()))
        return there()[0]

    def place(self, name):
        self.click(self.button(name, self.window.rail))

    def open(self, link):
        self.place("Loop")
        self.at.until(lambda: self.window.loop.isVisible())
        self.click(next(s for s in self.window.loop.stations if s.link == link))
        return self.at.sheet()

    def readings(self, rows, tmp_path, setup=()):
        sheet = self.window.sheet
        document = sheet.controller.session.facts.document(sheet.controller.session.procedure.name, list(rows))
        document["setup"] |= dict(setup)
        document["conditions"] = {"temperature_c": 20.4, "temperature_u_c": 0.5}
        (tmp_path / "readings.json").write_text(strict_dumps(document))
        self.click(self.button("File F8"))
        self.file(tmp_path / "readings.json")
        self.at.until(lambda: sheet.controller.session.next_slot is None)

    def sign(self):
        count = len(self.window.state.entries)
        self.click(self.window.sheet.numbers.sign)
        self.at.until(lambda: len(self.window.state.entries) > count)
        self.place("Loop")

    def tools(self, rows):
        self.place("Tools")
        settled(self.window, self.at)
        self.click(self.button("Type them in a grid"))
        self.at.until(lambda: shown_dialog(self.window, GridDialog) is not None)
        dialog = shown_dialog(self.window, GridDialog)
        for i, row in enumerate(rows):
            for column, text in enumerate(row):
                if text:
                    dialog.table.scrollTo(dialog.table.model().index(i, column))
                    place = dialog.table.visualRect(dialog.table.model().index(i, column)).center()
                    QTest.mouseClick(dialog.table.viewport(), Qt.MouseButton.LeftButton, pos=place)
                    QTest.mouseDClick(dialog.table.viewport(), Qt.MouseButton.LeftButton, pos=place)
                    self.at.type(text)
                    QTest.mouseClick(
                        dialog.table.viewport(),
                        Qt.MouseButton.LeftButton,
                        pos=dialog.table.visualRect(dialog.table.model().index(0, 0)).center(),
                    )
        self.click(self.button("Into the tray", dialog))
        self.at.until(lambda: not layers(self.window))
        settled(self.window, self.at)

    def next(self):
        self.click(self.window.tools.panel.main)

    def results(self):
        self.command("tray-results", None)

    def command(self, do, key):
        """A line of the menu: what it sends, for an open menu runs a loop of its own."""
        del key
        self.window.bar.asked.emit(do)
        settle(self.window)

    def file(self, path):
        line = self._line()
        line.clear()
        QTest.keyClicks(line, str(path))
        box = shown_dialog(self.window, QFileDialog).findChild(QDialogButtonBox)
        self.click(next(b for b in box.buttons() if box.buttonRole(b) is QDialogButtonBox.ButtonRole.AcceptRole))
        self.at.until(lambda: shown_dialog(self.window, QFileDialog) is None)


def strict_dumps(document):
    import json

    text = json.dumps(document)
    strict_json.loads(text)
    return text


def machine_says(folder, name, subject, world, variant=""):
    """What the machine would show: readings of its stand-in, which is only a machine here."""
    site = Site.load(folder)
    session = Session(name, prepared(site, name, subject, variant=variant).facts)
    found = measured(job_of(site, session), world)
    return found.readings, found.setup


def steady(folder, name, subject, about):
    """Readings of a thing that is as it should be: a few tenths of a micrometre apart."""
    session = Session(name, prepared(Site.load(folder), name, subject).facts)
    fields = session.procedure.model.value_fields
    return [
        {**slot.fields, **dict.fromkeys(fields, about + i % 3 * 0.0003)}
        for i, slot in enumerate(session.procedure.slots(session.facts))
    ]


def mended(by, folder, tmp_path, world):
    """Do what the lengths of an own mill rest on."""
    for link, name, about in (("level", "face-level", 0.0), ("repeatability", "repeatability", -300.0)):
        by.open(link)
        by.readings(steady(folder, name, SETTER, about), tmp_path)
        by.sign()
    by.open("setter")
    by.readings(machine_says(folder, "setter-calibration", SETTER, world)[0], tmp_path)
    by.sign()


@pytest.mark.parametrize("hand", [Keyboard, Mouse])
def test_an_own_mill_to_a_written_table(qtbot, qapp, tmp_path, size, hand):
    slips = {"setter_x": "50", "due": "2025-10-15"}  # a sign that is missing, a year that is past
    window, at, folder = founded(qtbot, qapp, tmp_path, MM, size, slips)
    by, world = hand(window, at), World.from_seed(7)
    assert unpainted(window) == []
    mended(by, folder, tmp_path, world)
    assert {s.link.key: s.state.value for s in window.state.links}["setter"] == "holds"
    by.tools(ROWS)
    c = window.tools.controller
    assert [(t.number, t.kind, t.diameter_mm, t.length_mm) for t in c.tray.tools] == [
        (1, "drill", 8.0, 110.0), (2, "end-mill", 10.0, 95.0), (3, "drill", 5.0, 88.0),
    ]  # fmt: skip
    if c.tray.marked != {1, 2, 3}:
        by.command("tray-mark", Qt.Key.Key_A)
    at.until(lambda: c.answer is not None and not c.plans.busy)
    assert c.answer.rehearsal.clean and "Not described" in shown_text(window.tools)
    by.next()  # writes the program
    by.file(tmp_path / "measure.ngc")
    at.until(lambda: folder.has(WRITTEN))
    worked(window)
    calibration = next(r for r in folder.book.all() if r.name == "setter-calibration")
    plane = calibration.row("trigger_plane_mm").value
    spots = left_in(folder, "Birch")
    lines = [f"#{s.first + i} = {plane + TRUE[s.tool] + i / 2000:.4f}" for s in spots for i in range(s.count)]
    (tmp_path / "print.txt").write_text("\n".join(lines))
    by.results()
    by.file(tmp_path / "print.txt")
    settled(window, at)
    at.until(lambda: len(c.tray.results) == 3)
    by.next()  # accepts them
    at.until(lambda: sum(e.name == "tool-length" for e in window.state.entries) == 3)
    settle(window)
    at.until(lambda: "new lengths" in shown_text(window.tools))
    by.next()  # writes the table
    by.file(tmp_path / "table.csv")
    worked(window)
    at.until(lambda: (tmp_path / "table.csv").exists() or bool(layers(window)))
    if layers(window):
        at.enter()
        at.until(lambda: (tmp_path / "table.csv").exists())
    for number, true in TRUE.items():
        assert f"{true:.2f}" in (tmp_path / "table.csv").read_text(), number
    assert unpainted(window) == [] and folder.book.verify().sound


CARD = {
    "prints": "SAY [{text}]", "prints_value": "#{parameter}", "store_length": "G10 L1 P{tool} Z{value}",
    "read_length": "#[700 + {tool}]", "tool_call": "T{tool:02} M6",
}  # fmt: skip


class Control:
    """A control beside an own mill: its true tools, its log."""

    def __init__(self, machine, log):
        rows = [{"number": n, "kind": k, "diameter_mm": float(d), "length_mm": TRUE[int(n)]}
                for n, k, d in (("1", "drill", "8"), ("2", "end-mill", "10"), ("3", "drill", "5"))]  # fmt: skip
        rows = [{**row, "number": int(row["number"])} for row in rows]
        self.tools, self.log = Tools.model_validate({"format": "nonna-tools/1", "tools": rows}), log
        self.control = StandinControl(machine, dialect_of("rs274"), first_tables(machine, self.tools))

    def run(self, text):
        machine = self.control.machine
        self.control.run(text, program_of(machine).standin(machine, self.tools, 5).drive, self)

    def printed(self, line):
        with self.log.open("a") as file:
            file.write(f"{line}\n")

    def stored(self, tables):
        pass

    def passed(self, seconds):
        pass


def test_an_own_mill_to_its_controls_own_table(qtbot, qapp, tmp_path, size):
    window, at, folder = founded(qtbot, qapp, tmp_path, MM, size)
    by = Keyboard(window, at)
    mended(by, folder, tmp_path, World.from_seed(7))
    (key,) = folder.shop().machines
    put(folder, "machines", {**card_of(key, folder.machine(key)), **CARD}, Signature("M. Teal"))
    window.look_again()
    at.until(lambda: window.site.machine.control is not None)
    by.tools(ROWS)
    c = window.tools.controller
    if c.tray.marked != {1, 2, 3}:
        by.command("tray-mark", Qt.Key.Key_A)
    at.until(lambda: c.answer is not None and not c.plans.busy)
    by.next()  # writes the program
    by.file(tmp_path / "measure.ngc")
    at.until(lambda: len(runs_of(folder, "Birch")) == 1)
    worked(window)
    steady_one = c.machine.model_copy(update={"repeatability_mm": 0.0002, "trigger_jitter_s": 0.0})
    control = Control(steady_one, tmp_path / "control.log")
    control.run((tmp_path / "measure.ngc").read_text())
    by.results()
    by.file(control.log)
    at.until(lambda: len(c.tray.results) == 3)
    settled(window, at)
    assert [row.suspicion or row.failed for row in c.tray.results if row.doubtful or row.failed] == []
    by.next()  # accepts them
    at.until(lambda: sum(e.name == "tool-length" for e in window.state.entries) == 3)
    at.until(lambda: "To the control" in shown_text(window.tools.panel))
    by.next()  # what goes into the table
    at.until(lambda: shown_dialog(window, StoreDialog) is not None)
    dialog = shown_dialog(window, StoreDialog)
    assert unpainted(dialog) == [] and "Left out" not in shown_text(dialog)
    at.press(Qt.Key.Key_Return)
    by.file(tmp_path / "load.ngc")
    at.until(lambda: runs_of(folder, "Birch")[-1].purpose == "load")
    worked(window)
    control.run((tmp_path / "load.ngc").read_text())
    by.results()
    by.file(control.log)
    at.until(lambda: sum(e.name == STORED for e in window.state.entries) == 3)
    settle(window)
    lengths = {row.number: row.length for row in control.control.kept.tools}
    assert lengths == pytest.approx(TRUE, abs=0.02) and c.unwritten == 0
    assert unpainted(window) == [] and folder.book.verify().sound


@pytest.mark.parametrize("hand", [Keyboard, Mouse])
def test_an_own_lathe_to_a_written_table(qtbot, qapp, tmp_path, size, hand):
    window, at, folder = founded(qtbot, qapp, tmp_path, ELDER, size, {"travel_x": "21000"})
    by, world = hand(window, at), World.from_seed(5)
    assert {s.link.key for s in window.state.links} == {"reference", "seating", "arm", "centre", "tips", "chuck"}
    assert unpainted(window) == []
    for link, name, subject in (
        ("reference", "lathe-offset-cut", REFERENCE_TOOL),
        ("seating", "repeatability", ARM),
        ("arm", "lathe-arm", ARM),
    ):
        by.open(link)
        rows, setup = machine_says(folder, name, subject, world)
        by.readings(rows, tmp_path, setup)
        by.sign()
    by.tools((("1", "turning tool", "", "", "", "", "", "20"),))
    settle(window)
    c = window.tools.controller
    assert [t.number for t in c.tray.tools] == [1]
    by.next()  # opens its sheet
    at.sheet()
    rows, setup = machine_says(folder, "lathe-tip", tool(1), world)
    by.readings(rows, tmp_path, setup)
    by.sign()
    if hand is Mouse:
        by.place("Tools")
    else:
        at.press(Qt.Key.Key_F3)
    settled(window, at)
    settle(window)
    by.command("tray-lengths", Qt.Key.Key_L)
    at.until(lambda: shown_dialog(window, OffsetsDialog) is not None)
    at.enter()
    at.until(lambda: c.tray.tool(1).offset_x_mm is not None)
    worked(window)
    by.command("write-table", Qt.Key.Key_S)
    by.file(tmp_path / "lathe.csv")
    worked(window)
    at.until(lambda: (tmp_path / "lathe.csv").exists())
    assert f"{c.tray.tool(1).offset_x_mm:.4f},{c.tray.tool(1).offset_z_mm:.4f}" in (tmp_path / "lathe.csv").read_text()
    assert unpainted(window) == [] and folder.book.verify().sound
