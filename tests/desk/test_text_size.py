"""At 160 % on a small screen nothing is cut: pages and dialogs scroll, and every word has its room."""

import subprocess
import sys

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QDialog, QLabel, QLineEdit, QPushButton

from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.widgets import GivesWay, Room
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.settings_dialog import SettingsDialog
from nonna.desk.pages.sheet.view import SheetView
from nonna.desk.start.setting_up import SetUp
from nonna.desk.start.welcome import Welcome
from nonna.shop.links.subjects import PROBE, SETTER
from tests.support.hands import settle, shown_dialog

SMALL = (640, 437)  #: what a screen of 1024 x 700 holds where everything is 1.6 times as large


def cut(widget):
    """Words and buttons that have less room than they need, but for those that give way whole."""
    found = []
    for each in widget.findChildren(QLabel):
        if not each.isVisible() or not each.text().strip() or isinstance(each, GivesWay):
            continue
        room, wanted = each.contentsRect(), each.sizeHint()
        if each.wordWrap():
            longest = max(each.fontMetrics().horizontalAdvance(word) for word in each.text().split())
            if longest > room.width() or each.heightForWidth(each.width()) > each.height() + 1:
                found.append(each.text()[:60])
        elif wanted.width() > each.width() + 1 or wanted.height() > each.height() + 1:
            found.append(each.text()[:60])
    for each in widget.findChildren(QPushButton):
        if (
            each.isVisible()
            and each.text()
            and each.fontMetrics().boundingRect(each.rect(), 0, each.text()).width() > each.width()
        ):
            found.append(each.text()[:60])
    return found


def small(desk, hands):
    hands.until(lambda: desk.settled)
    desk.resize(*SMALL)
    settle(desk)
    assert (desk.width(), desk.height()) == SMALL


@pytest.mark.parametrize(
    "place",
    [
        CommandId.LOOP,
        CommandId.TOOLS,
        CommandId.BOOK,
        CommandId.SHELF,
        CommandId.TRAY_REHEARSAL,
        "setter-calibration",
        "tip-runout",
        "repeatability",
    ],
)
def test_every_page_has_room_for_its_words(desk, hands, place):
    small(desk, hands)
    if isinstance(place, CommandId):
        desk.do(place)
        settle(desk)
        hands.until(lambda: desk.settled)
    else:
        desk.open_sheets([(place, PROBE if place == "tip-runout" else SETTER)], CommandId.LOOP)
        hands.until(lambda: desk.sheet is not None and desk.sheets.in_front)
        desk.do(CommandId.STANDIN)
        hands.until(lambda: not desk.sheet.controller.busy)
    settle(desk)
    assert (desk.width(), desk.height()) == SMALL
    assert cut(desk) == []
    room = desk.findChild(Room)
    inside = room.widget()
    assert inside.width() <= room.viewport().width()  # up and down it scrolls, never sideways
    at = hands.at
    if room.isAncestorOf(at):
        hands.until(lambda: not at.visibleRegion().isEmpty())  # the keyboard is never where nobody sees it
        if isinstance(at, QLineEdit):
            hands.until(lambda: at.visibleRegion().boundingRect().width() == at.width())


@pytest.mark.parametrize(
    "do",
    [
        CommandId.HELP,
        CommandId.KEYS,
        CommandId.FIND,
        CommandId.SETTINGS,
        CommandId.INDICATOR,
        CommandId.WHAT_IF,
        CommandId.TRAY_JOB,
        CommandId.TRAY_ADD,
        CommandId.TRAY_GRID,
        CommandId.TRAY_FEEDS,
        CommandId.TRAY_LENGTHS,
    ],
)
def test_every_dialog_has_room_for_its_words(desk, hands, do):
    small(desk, hands)
    desk.do(do)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(QDialog)))
    dialog = shown_dialog(desk, QDialog)
    for part in range(4 if isinstance(dialog, SettingsDialog) else 1):
        if part:
            hands.press(Qt.Key.Key_Down)
        settle(desk)
        assert cut(dialog) == []
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not any(d.isVisible() for d in desk.findChildren(QDialog)))
    assert desk.isEnabled() and hands.at is not None


def test_the_first_windows_have_room_too(qtbot, tmp_path):
    for window in (Welcome(tmp_path / "none"), SetUp(tmp_path / "mine")):
        qtbot.addWidget(window)
        window.show()
        window.resize(*SMALL)
        assert cut(window) == []


def test_the_size_is_remembered_and_taken_at_the_next_start(desk, hands, tmp_path):
    settings = DeskSettings(tmp_path / "one.ini")
    assert settings.text_percent == 100
    settings.text_percent = 145
    assert DeskSettings(tmp_path / "one.ini").text_percent == 145
    for odd, wanted in ((1000, 160), (3, 90)):
        settings.text_percent = odd
        assert settings.text_percent == wanted
    code = (
        "import os, sys\n"
        "from pathlib import Path\n"
        "import nonna.desk\n"
        "from nonna.desk.start import app\n"
        "from nonna.desk.frame.settings import DeskSettings\n"
        "app.wiring.settings_file = lambda: Path(sys.argv[1])\n"
        "DeskSettings(Path(sys.argv[1])).text_percent = 145\n"
        "app.style.load_fonts = lambda: (print(app.QApplication.instance().devicePixelRatio()), sys.exit(0))\n"
        "app.open_desk(demo=True, shop=None, tour=None)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, str(tmp_path / "two.ini")], capture_output=True, text=True, check=True, timeout=60
    )
    assert float(done.stdout) == pytest.approx(1.45)


@pytest.mark.parametrize(
    "place", [CommandId.LOOP, CommandId.TOOLS, CommandId.BOOK, CommandId.SHELF, "setter-calibration"]
)
def test_a_window_of_any_size_comes_to_rest(desk, hands, place):
    """Scroll bars that come and go with the room they take must not chase each other."""
    hands.until(lambda: desk.settled)
    if isinstance(place, CommandId):
        desk.do(place)
    else:
        desk.open_sheets([(place, SETTER)], CommandId.LOOP)
        hands.until(lambda: desk.sheet is not None and desk.sheets.in_front)
    settle(desk)
    for k in range(90):
        desk.resize(560 + 8 * k, 380 + (37 * k) % 460)
        QApplication.processEvents()
    assert desk.findChild(Room).isVisible()


def test_a_sheet_that_waits_for_its_first_use_hears_nothing(qtbot, qapp):
    view = SheetView()
    qtbot.addWidget(view)
    view.numbers.entered.emit("-312.4")  # a late key while it happens to stand in front
    view.numbers.taken_as_typed.emit()
    view.numbers.undo_asked.emit()
    assert not hasattr(view, "controller")
