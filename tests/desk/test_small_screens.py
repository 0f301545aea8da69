"""Small screens and large text: a drawing gives way to numbers, a column goes whole, and no number is cut."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtWidgets import QApplication, QWidget

from nonna.desk.commands.ids import CommandId
from nonna.desk.pages.tools.model import CHANGE, NOW, WAS
from nonna.desk.start.app import fit_to_screen
from tests.support.hands import settle

SIZES = [(1024, 700), (1280, 800), (1366, 768), (787, 538), (985, 615), (800, 500)]  # the last: large text on those


def resized(desk, size):
    desk.resize(*size)
    for _ in range(3):
        QApplication.processEvents()


@pytest.mark.parametrize("size", SIZES)
def test_the_trays_numbers_are_whole_or_not_there(desk, hands, size):
    desk.do(CommandId.TOOLS)
    settle(desk)
    resized(desk, size)
    table = desk.tools.table
    metrics, shown = QFontMetrics(table.font()), [c for c in (WAS, NOW, CHANGE) if not table.isColumnHidden(c)]
    assert shown == [WAS, NOW, CHANGE] or (size[0] < 1000 and NOW in shown)
    for column in shown:
        left, width = table.columnViewportPosition(column), table.columnWidth(column)
        assert left >= 0 and left + width <= table.viewport().width()
        for row in range(table.model().rowCount()):
            words = desk.tools.model.words_in(desk.tools.shown.row(row), column)
            assert metrics.horizontalAdvance(words) <= width


def test_the_first_window_stands_on_its_screen_with_its_title_bar(qtbot, qapp):
    window = QWidget()
    qtbot.addWidget(window)
    window.resize(1280, 800)
    fit_to_screen(window)
    free, at = window.screen().availableGeometry(), window.geometry()
    assert free.contains(at) and at.height() <= free.height() - 40 and at.top() >= free.top()


@pytest.mark.parametrize("size", SIZES)
def test_a_sheets_drawing_is_wide_enough_or_away(desk, hands, size):
    desk.open_link("setter")
    sheet = hands.sheet()
    resized(desk, size)
    drawing, numbers = sheet.figure, sheet.numbers
    assert not drawing.isVisible() or drawing.width() >= 240
    assert drawing.isVisible() is (size[0] >= 1200)
    assert numbers.isVisible() and numbers.width() >= 420
    hands.press(Qt.Key.Key_F9)
    assert sheet.form_open and sheet.form.isVisible()
    hands.press(Qt.Key.Key_F9)
    assert not sheet.form_open and numbers.reading.hasFocus()
