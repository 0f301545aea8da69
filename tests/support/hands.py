"""Hands on a window: keys where the keyboard is, and what is seen."""

import os

from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from nonna.desk.threads.work import Work
from nonna.shop.records.text import body_of
from tests.support.ledgers import Ledger

PATIENCE = int(os.environ.get("NONNA_PATIENCE_MS", "120000"))


def turns():
    """A few turns of the event loop: pages, sheets and dialogs come to the front some turns after they are asked
    for.
    """
    for _ in range(10):
        QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)  # a loop would: what was closed is gone


def settle(window):
    """Wait until what was signed is stored and shown: a disk takes its time, behind the screen."""
    for _ in range(int(PATIENCE / 5)):
        turns()
        if window.settled:
            turns()  # what was read comes to the front
            return
        QTest.qWait(5)
    raise AssertionError("it never settled")


def worked(widget):
    """Wait until nothing that was begun behind a widget is under way: files are read and written there."""
    for _ in range(int(PATIENCE / 5)):
        turns()
        if not any(work.busy for work in widget.findChildren(Work)):
            turns()
            return
        QTest.qWait(5)
    raise AssertionError("it never ended")


class Hands:
    """Presses keys where the keyboard is and counts them."""

    def __init__(self, window, qtbot):
        self.window, self.qtbot, self.keys = window, qtbot, []

    @property
    def at(self):
        return QApplication.focusWidget() or self.window

    def type(self, text):
        self.keys += list(text)
        QTest.keyClicks(self.at, text)

    def press(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        self.keys.append({Qt.Key.Key_Enter: "Enter", Qt.Key.Key_Return: "Enter"}.get(key, key.name))
        QTest.keyClick(self.at, key, modifier)
        settle(self.window)

    def enter(self, text=""):
        self.type(text)
        self.press(Qt.Key.Key_Enter, Qt.KeyboardModifier.KeypadModifier)

    def until(self, true):
        self.qtbot.waitUntil(true, timeout=PATIENCE)

    def sheet(self, subject=None):
        self.until(lambda: self.window.sheet is not None and self.window.sheets.in_front)
        if subject:
            self.until(
                lambda: (
                    self.window.sheet is not None and str(self.window.sheet.controller.session.facts.subject) == subject
                )
            )
        return self.window.sheet

    def mend(self, *links):
        """Measure links on the stand-in, turning what is advised, and sign."""
        for link in links:
            self.window.open_link(link)
            self.sheet()
            self.standin()
            while self.window.sheet.controller.picture().again:
                self.enter()
                self.until(lambda: not self.window.sheet.controller.busy)
            self.enter()
            self.enter()
            self.until(lambda: self.window.sheet is None)

    def standin(self):
        self.press(Qt.Key.Key_F7)
        self.until(lambda: not self.window.sheet.controller.busy)


TOP = ("-312.4010", "-312.4004", "-312.4013")


SIDES = ("735.0532", "735.0521", "705.0790", "705.0800", "75.0517", "75.0520", "45.0823", "45.0824")


def record_of(desk, number):
    ledger = Ledger(desk.folder.ledger)
    found = ledger.get(number)
    assert ledger.verify().sound
    return body_of(found)


def shown_dialog(desk, kind):
    """The dialog of a kind that is open over the window, or None; it opens a turn after it was asked for."""
    turns()
    return next((d for d in reversed(desk.findChildren(kind)) if d.isVisible()), None)


def shown_text(widget):
    return " ".join(
        label.text() for label in widget.findChildren(QWidget) if hasattr(label, "text") and label.isVisible()
    )


def settled(desk, hands):
    c = desk.tools.controller
    hands.until(lambda: not c.plans.busy and not c.busy)


def choose(hands, path):
    dialog = the_dialog(hands)
    dialog.fileSelected.emit(str(path))
    dialog.reject()


def the_dialog(hands):
    hands.until(lambda: shown_dialog(hands.window, QFileDialog) is not None)
    return shown_dialog(hands.window, QFileDialog)
