"""Another theme: what stands on the screen is what a fresh window would show, each piece painted once."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage

from nonna.desk.forms.finder import Finder
from nonna.desk.pages.loop.station import Station
from tests.support.hands import PATIENCE, shown_dialog


@pytest.fixture
def still_caret(qapp):
    """Or it comes and goes between two pictures."""
    usual = qapp.cursorFlashTime()
    qapp.setCursorFlashTime(0)
    yield
    qapp.setCursorFlashTime(usual)


@pytest.mark.parametrize("front", ["loop", "tools", "book", "dialog"])
def test_what_stands_on_the_screen_is_what_a_fresh_window_would_show(desk, hands, qtbot, still_caret, front):
    if front == "dialog":  # covers what is behind it
        hands.press(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        hands.until(lambda: shown_dialog(desk, Finder) is not None)
    else:
        hands.press({"loop": Qt.Key.Key_F2, "tools": Qt.Key.Key_F3, "book": Qt.Key.Key_F4}[front])
    for _ in range(2):  # to dark, and back
        desk.show_theme()
        qtbot.waitUntil(lambda: on_screen(desk) == as_drawn(desk), timeout=PATIENCE)


def test_another_theme_paints_each_link_of_the_loop_once(desk, hands, qtbot, monkeypatch):
    hands.press(Qt.Key.Key_F2)
    painted, paint = [], Station._paint
    monkeypatch.setattr(Station, "_paint", lambda self, p: (painted.append(self.link), paint(self, p)))
    desk.show_theme()
    qtbot.waitUntil(lambda: bool(painted), timeout=PATIENCE)
    assert len(painted) == len(set(painted)) == len(desk.loop.stations)


def on_screen(window):
    return window.screen().grabWindow(window.winId()).toImage().convertToFormat(QImage.Format.Format_RGB32)


def as_drawn(window):
    return window.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
