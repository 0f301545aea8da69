"""A guided tour through the main job on the real widgets: pictures, program, tool table, certificate."""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, Qt, qInstallMessageHandler
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QWidget

from nonna.desk.commands.ids import CommandId
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.pages.sheet.view import SheetView
from nonna.desk.pages.tools.forms.ways_dialog import WaysDialog
from nonna.desk.signing.certificate_out import write_certificate
from nonna.desk.signing.event_signing import log_event
from nonna.desk.start.fault_watch import say_offscreen
from nonna.desk.start.setting_up import SetUp
from nonna.desk.start.welcome import Welcome
from nonna.desk.start.window_making import make_window
from nonna.desk.tray.wear_dialog import WearDialog
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.procedures.session import SetupField
from nonna.shop.links.subjects import Subject, tool
from nonna.wiring import demo_shop, write_bytes

PATIENCE_S = 60.0
FIRST_ANSWERS = (
    "mm", "Tarnholm Pump Works", "K. Amsel", "mill", "Larch", "600", "400", "500", "14", "4", "high end", "", "", "-50",
)  # fmt: skip


class Tour:
    """Presses the keys a technician would and takes a picture at each turn."""

    def __init__(self, out: Path, pictures_only: bool) -> None:
        self._out, self._all = out, not pictures_only
        out.mkdir(parents=True, exist_ok=True)
        app = QApplication.instance() or QApplication([sys.argv[0]])
        style.load_fonts()
        if isinstance(app, QApplication):
            style.apply(app, LIGHT)
        self._place = Path(tempfile.mkdtemp(prefix="nonna-tour-"))
        self.window = make_window(demo_shop(self._place / "shop"), DeskSettings(self._place / "desk.ini"))
        self.window.resize(1280, 800)
        self.window.show()

    def run(self) -> None:
        """Walk through the main job, then the other faces of the same views."""
        self.main_job()
        self.rest()

    def main_job(self) -> None:
        """Level and calibrate the setter, measure the whole tray, write the table."""
        w = self.window
        self._until(lambda: w.site is not None)
        self._picture("01-loop", "the loop, with the setter knocked yesterday")
        self._link("level")
        w.open_link("setter")
        self._until(lambda: w.sheets.in_front)
        for digits in ("-312.4010", "-312.4005"):
            QTest.keyClicks(self._sheet.numbers.reading, digits)
            self._press(Qt.Key.Key_Return)
        QTest.keyClicks(self._sheet.numbers.reading, "-12.2992")
        self._press(Qt.Key.Key_Return)
        if self._all:
            self._picture("20-question", "a reading typed in inches is questioned")
        self._press(Qt.Key.Key_Escape)
        self._sheet.numbers.reading.clear()
        for index in (0, 1):
            self._sheet.controller.strike(index, "typed for the tour")
        self._measure()
        self._picture("04-setter-measured", "measured by the stand-in machine")
        self._keep("setter-calibration.ngc", self._sheet.controller.program)
        self._press(Qt.Key.Key_Return)
        self._press(Qt.Key.Key_Return)
        self._until(lambda: w.sheet is None)
        w.do(CommandId.TOOLS)
        tray = w.tools.controller
        self._until(lambda: tray.answer is not None and not tray.plans.busy)
        w.tools.table.go_to(4)
        self._picture("05-tools", "the tray: how each tool is touched, planned and rehearsed")
        w.tools.show_rehearsal()
        path = tray.answer.rehearsal.path if tray.answer is not None else ()
        search = next((i for i, p in enumerate(path) if p.tool == 4 and p.way == "probe"), 1)
        w.tools.rehearsal.strip.go(search - 1)
        self._picture("06-rehearsal", "the program and its rehearsal, to be scrubbed")
        w.tools.show_tray()
        if self._all and tray.answer is not None:
            self._keep("measure-tools.ngc", tray.answer.text)
        self._press(Qt.Key.Key_Return)
        self._until(lambda: not tray.busy)
        self._picture("07-tools-measured", "old and new lengths before anything is signed or written")
        self.accept()
        if self._all:
            table = self._out / "tool-table.csv"
            table.unlink(missing_ok=True)
            w.tools.write_table(table)
            self._until(lambda: w.settled)
            if table.exists():  # a full disk is said by the window, never announced as a file
                print("tool-table.csv: the lengths to load into the machine")
        self._from_presetter()

    def _from_presetter(self) -> None:
        """Thirty tools from the presetter, typed nowhere; before that, which of them it is good enough for."""
        w, tray = self.window, self.window.tools.controller
        self._until(lambda: w.settled and not tray.busy)
        if not self._presets:
            return
        fine = tray.tray.tool(9)
        if fine is not None:
            tray.change(tray.tray.with_tool(fine.model_copy(update={"tolerance_mm": 0.005}), 9))
        w.tools.mark_shown()
        self._until(lambda: tray.answer is not None and not tray.plans.busy)
        QTest.keyClicks(w.tools.table, "w")
        self._until(lambda: any(dialog.isVisible() for dialog in w.findChildren(WaysDialog)))
        if self._all:
            self._picture("21-which-way", "presetter or setter: what each tool needs, and the minutes")
        self._press(Qt.Key.Key_Escape)
        self._press(Qt.Key.Key_F12)
        self._until(lambda: tray.arrivals.now is None and len(tray.tray.results) == len(tray.tray.tools))
        w.tools.table.go_to(9)
        self._picture("18-from-presetter", "thirty tools from the presetter, put right for this machine")
        self.accept()

    def rest(self) -> None:
        """Book and certificate; then dark, inch, setup, repeatability."""
        w = self.window
        w.do(CommandId.BOOK)
        self._certificate()
        self._picture("08-book", "the book, with the history of a value")
        w.open_link("repeatability")
        self._sign()
        self._link("runout", "14-tip-runout", "the dial round the axis, screws to turn, where to stop")
        self._link("ring", "22-probe-ring" if self._all else "", "radius in each direction, offset, lobing")
        self._link("probe")
        self._link("closure")
        w.do(CommandId.LOOP)
        w.do(CommandId.THEME)
        self._link("proof")
        w.do(CommandId.UNITS)
        self._picture("11-loop-mended-dark-inch", "the loop mended, dark and in inches")
        w.do(CommandId.UNITS)
        w.do(CommandId.THEME)
        w.open_link("setter")
        self._until(lambda: w.sheets.in_front)
        self._asked("03-help", "help on any page, with its drawing", CommandId.HELP)
        w.do(CommandId.LOOP)
        self._asked(
            "02-settings", "the shop's own limits, signed when they change", CommandId.SETTINGS, Qt.Key.Key_Down
        )
        self._presetter()
        self._router()
        self._lathe()
        self._first_hour()

    def _presetter(self) -> None:
        """The presetter, where there is one: calibrated on three masters, a tool, its transfer to a machine."""
        w = self.window
        if not self._presets:
            return
        self._station("alder")
        self._picture("09-presetter-loop", "the presetter's own loop, with a transfer to each machine")
        name = "25-presetter-calibration" if self._all else ""
        self._link("calibration", name, "what is put right over the travel, proved on a third master")
        w.open_sheets([(one_offering(offers.ON_PRESETTER), tool(7))], CommandId.LOOP)
        self._sign()
        name = "23-presetter-transfer" if self._all else ""
        self._link("transfer-Rowan", name, "what one more tool will be good for on the router")

    def _router(self) -> None:
        """The router: a rack with one bent clip, and the home checked on a pin."""
        w = self.window
        self._station("rowan")
        self._picture("17-router-loop", "the router's loop, a clip of its rack replaced on Monday")
        self._link("home")
        w.open_link("rack")
        self._until(lambda: w.sheets.in_front)
        self._measure()
        self._picture("19-rack", "the row from above and from the side; one clip is bent")

    def _lathe(self) -> None:
        """The lathe: three tips, one of them after its insert was changed, a part, and the wear it asks for."""
        w = self.window
        self._station("willow")
        self._picture("16-lathe-loop", "the lathe's loop: the insert of one tip was changed")
        log_event(w, "insert-changed", "a new insert for the finisher", tool(3))
        self._until(lambda: w.settled)
        w.measure((tool(3), tool(5), tool(7)))
        for number in (3, 5, 7):
            self._until(partial(self._sheet_of, tool(number)))
            self._measure()
            if self._all and number == 3:
                self._picture("24-tip", "a tip over the arm, with the faces its edges look at")
            self._press(Qt.Key.Key_Return)
            self._press(Qt.Key.Key_Return)
        self._until(lambda: w.sheet is None)
        w.open_link("parts")
        self._until(lambda: w.sheets.in_front)
        held = next(t.wear_x_mm for t in w.site.tools if t.number == 3) if w.site is not None else None
        for name, value in (("tool", "T3"), ("wear_mm", held)):
            self._sheet.controller.set_field(SetupField(name), value)
        self._sign()
        self._until(lambda: w.settled)
        w.do(CommandId.WEAR)
        self._until(lambda: any(dialog.isVisible() for dialog in w.findChildren(WearDialog)))
        self._picture("15-wear", "the parts of a batch, corrected wear marked, and what the table should hold")
        self._press(Qt.Key.Key_Return)
        self._press(Qt.Key.Key_Escape)
        self._tips_by_program()

    def _tips_by_program(self) -> None:
        """Two tips by one program, and what their offsets then differ by from the table, in the dark and in inches."""
        w = self.window
        w.do(CommandId.TOOLS)
        self._until(lambda: w.places.at(CommandId.TOOLS) and w.settled)
        w.tools.mark((1, 7))
        c = w.tools.controller
        w.do(CommandId.STANDIN)
        self._until(lambda: not c.busy and bool(c.tray.results))
        self.accept()
        w.do(CommandId.THEME)
        w.do(CommandId.UNITS)
        self._asked(
            "12-lathe-offsets-dark-inch",
            "measured offsets of a lathe beside its table, before they are written",
            CommandId.TRAY_LENGTHS,
        )
        w.do(CommandId.THEME)
        w.do(CommandId.UNITS)

    def _first_hour(self) -> None:
        """A shop of one's own: the first window, and a page of setting up a machine."""
        welcome, pages = Welcome(self._place / "own"), SetUp(self._place / "own")
        welcome.show()
        self._picture("13-first-window", "the first window of all", welcome)
        welcome.close()
        pages.show()
        for answer in FIRST_ANSWERS:
            pages.take(answer)
        self._picture("10-set-up", "one question a page, the machine drawn as it grows", pages)
        pages.close()

    def _station(self, key: str) -> None:
        """Show another machine; it is none until it is there: a picture of the one before would be taken for its."""
        w = self.window
        self._until(lambda: w.settled)
        w.show_station(key)
        self._until(lambda: w.settled and w.state is not None and w.state.key == key)

    @property
    def _presets(self) -> bool:
        """Whether the shop has a presetter."""
        return "alder" in self.window.folder.shop().machines

    def _sheet_of(self, subject: Subject) -> bool:
        """Say whether a subject's sheet is in front."""
        return self.window.sheets.in_front and self._sheet.controller.session.facts.subject == subject

    def _sign(self) -> None:
        """Measure the sheet that opens on the stand-in and sign it."""
        self._until(lambda: self.window.sheets.in_front)
        self._measure()
        self._press(Qt.Key.Key_Return)
        self._press(Qt.Key.Key_Return)
        self._until(lambda: self.window.sheet is None)

    def _link(self, key: str, name: str = "", words: str = "") -> None:
        """Measure a link on the stand-in, turning what is advised, and sign it; a picture of the first pass."""
        self.window.open_link(key)
        self._until(lambda: self.window.sheets.in_front)
        self._measure()
        if name:
            self._picture(name, words)
        controller = self._sheet.controller
        while controller.picture().again:
            self._press(Qt.Key.Key_Return)
            self._until(lambda: not controller.busy)
        self._press(Qt.Key.Key_Return)
        self._press(Qt.Key.Key_Return)
        self._until(lambda: self.window.sheet is None)

    def _asked(self, name: str, words: str, do: CommandId, *keys: Qt.Key) -> None:
        """Take a picture of a dialog that a command opens, after some keys."""
        w = self.window
        self._until(lambda: w.settled)
        w.do(do)
        self._until(lambda: any(dialog.isVisible() for dialog in w.findChildren(QDialog)))
        for key in keys:
            self._press(key)
        self._picture(name, words)
        self._press(Qt.Key.Key_Escape)

    def _certificate(self) -> None:
        w = self.window
        self._until(lambda: w.state is not None)
        entries = w.state.entries if w.state else ()
        number = next(e.number for e in reversed(entries) if e.name == one_offering(offers.TRIGGER_PLANE))
        row = next(r for r in range(w.book.shown.rowCount()) if w.book.shown.entry(r).number == number)
        w.book.table.selectRow(row)
        if self._all:
            path = self._out / "certificate.pdf"
            write_certificate(w, number, path)
            self._until(path.exists)
            print(f"certificate.pdf: the certificate of record {number}")

    @property
    def _sheet(self) -> SheetView:
        if self.window.sheet is None:
            raise RuntimeError("no sheet is open")
        return self.window.sheet

    def _measure(self) -> None:
        self.window.do(CommandId.STANDIN)
        controller = self._sheet.controller
        self._until(lambda: not controller.busy)

    def accept(self) -> None:
        """Accept all that is sound, then look at each that waits: of thirty tools one may well have strayed."""
        w, tray = self.window, self.window.tools.controller
        self._press(Qt.Key.Key_Return)
        self._until(lambda: not tray.busy)
        for row in tray.tray.results:
            w.tools.table.go_to(next(t.number for t in tray.tray.tools if t.subject == row.subject))
            QTest.keyClick(w.tools.table, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
            self._until(partial(self._is_signed, row.subject))

    def _is_signed(self, subject: Subject) -> bool:
        """Say whether nothing of a tool waits in the tray any more."""
        waiting = self.window.tools.controller.tray.results
        return self.window.settled and all(row.subject != subject for row in waiting)

    def _press(self, key: Qt.Key) -> None:
        QTest.keyClick(QApplication.focusWidget() or self.window, key)
        self._until(lambda: self.window.settled)

    def _keep(self, name: str, text: str) -> None:
        if self._all:
            (self._out / name).write_text(text, "utf-8")
            print(f"{name}: the program that was written and run")

    def _picture(self, name: str, words: str, of: QWidget | None = None) -> None:
        for _ in range(4):
            QApplication.processEvents()
            time.sleep(0.02)
        self._until(lambda: self.window.settled)
        write_bytes(self._out / f"{name}.png", png_of(of or self.window))
        print(f"{name}.png: {words}")

    def _until(self, true: Callable[[], bool]) -> None:
        end = time.monotonic() + PATIENCE_S
        while not true():
            if time.monotonic() > end:
                raise TimeoutError("the tour waited too long")
            QApplication.processEvents()
            time.sleep(0.01)


def png_of(widget: QWidget) -> bytes:
    """Return a picture of a widget as PNG."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    widget.grab().save(buffer, "PNG")
    return bytes(data.data())


def run(out: Path, *, pictures_only: bool = False) -> int:
    """Run the tour into a folder; 1 when something could not be written there."""
    qInstallMessageHandler(say_offscreen)
    try:
        tour = Tour(out, pictures_only)
        tour.run()
    except (NonnaError, OSError) as error:
        print(f"The tour stops: {error.message if isinstance(error, NonnaError) else error}", file=sys.stderr)
        return 1
    tour.window.hide()
    print(f"All of it lies in {out}/.")
    return 0


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("out", type=Path)
    parser.add_argument("--pictures-only", action="store_true")
    given = parser.parse_args()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.exit(run(given.out, pictures_only=given.pictures_only))
