"""Dialogs are one layer: the top one has the keys, Enter does what a button promises, nothing opens twice."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QListWidget

from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.frame.settings_dialog import SettingsDialog
from nonna.desk.signing.event_signing import log_event
from nonna.desk.start.welcome import Welcome
from tests.support.hands import settle, shown_dialog, shown_text


def dialogs(desk):
    return [d for d in desk.findChildren(QDialog) if d.isVisible()]


def a_tool(desk, hands):
    desk.do(CommandId.TOOLS)
    settle(desk)
    desk.tools.table.setFocus()
    for _ in range(4):
        QTest.keyClick(desk.tools.table, Qt.Key.Key_N)
    hands.until(lambda: shown_dialog(desk, FormDialog) is not None)
    settle(desk)
    return shown_dialog(desk, FormDialog)


def test_a_key_pressed_four_times_opens_one_box(desk, hands):
    form = a_tool(desk, hands)
    assert dialogs(desk) == [form]
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: dialogs(desk) == [])
    assert hands.at is desk.tools.table


def test_nothing_behind_a_box_takes_its_keys(desk, hands):
    form = a_tool(desk, hands)
    for key in (Qt.Key.Key_F2, Qt.Key.Key_F3, Qt.Key.Key_F4, Qt.Key.Key_F8, Qt.Key.Key_F10):
        hands.press(key)
        assert form.isAncestorOf(hands.at)
    desk.tools.table.setFocus()  # a page that has just read the disk
    assert form.isAncestorOf(hands.at)
    desk.go(CommandId.LOOP)
    desk.open_link("setter")  # a sheet that was on its way opens behind it
    hands.until(lambda: desk.sheet is not None)
    settle(desk)
    assert form.isAncestorOf(hands.at)
    hands.type("77")
    assert desk.sheet.numbers.reading.text() == "" and form.values()["number"].endswith("77")
    hands.press(Qt.Key.Key_Escape)
    hands.until(lambda: not dialogs(desk))
    assert desk.sheet is not None  # Esc was the box's


def test_the_upper_of_two_has_the_keys_and_gives_them_back(desk, hands):
    form, said = a_tool(desk, hands), []
    show_over(QuestionDialog("Throw it away?", "Throw it away", lambda: said.append(1), desk), desk)
    show_over(QuestionDialog("Throw it away?", "Throw it away", lambda: said.append(2), desk), desk)
    hands.until(lambda: shown_dialog(desk, QuestionDialog) is not None)
    settle(desk)
    assert len(dialogs(desk)) == 2
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: dialogs(desk) == [form])
    assert said == [1] and form.isAncestorOf(hands.at)


def test_enter_presses_the_button_that_promises_it(desk, hands):
    desk.do(CommandId.SETTINGS)
    hands.until(lambda: shown_dialog(desk, SettingsDialog) is not None)
    settings = shown_dialog(desk, SettingsDialog)
    assert "Take over   Enter" in shown_text(settings) and isinstance(hands.at, QListWidget)
    box = next(e for e in settings.findChildren(QComboBox) if e.accessibleName() == "Last digit")
    box.setCurrentIndex(1 - box.currentIndex())
    wanted = box.currentData()
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: desk.settings.units.coarse is (wanted == "coarse"))


@pytest.mark.parametrize("key", [Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space])
def test_the_first_window_of_all_answers_to_enter(qtbot, qapp, tmp_path, key):
    welcome = Welcome(tmp_path / "none")
    qtbot.addWidget(welcome)
    welcome.show()
    qtbot.waitExposed(welcome)
    welcome.activateWindow()
    qtbot.waitUntil(lambda: QApplication.focusWidget() is not None)
    QTest.keyClick(welcome, Qt.Key.Key_Tab)
    QTest.keyClick(QApplication.focusWidget(), key)
    assert welcome.demo and not welcome.isVisible()  # the second button: look round in the demo shop


def test_a_refused_reading_is_selected_so_that_the_next_one_replaces_it(desk, hands):
    desk.open_link("setter")
    line = hands.sheet().numbers.reading
    hands.enter("12,34,5")
    assert isinstance(line, QLineEdit) and line.selectedText() == line.text() == "12,34,5"
    hands.enter("-312.4010")
    assert len(desk.sheet.controller.session.rows) == 1


def test_closing_twice_closes_though_somebody_signed_meanwhile(desk, hands):
    desk.open_link("setter")
    hands.sheet()
    hands.enter("-312.4010")
    desk.close()
    assert desk.isVisible() and "Close again" in shown_text(desk)
    count = len(desk.state.entries)
    log_event(desk, "crash", "meanwhile")
    hands.until(lambda: len(desk.state.entries) == count + 1)
    settle(desk)
    desk.close()
    assert not desk.isVisible()
