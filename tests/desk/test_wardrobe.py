"""Another theme: window after window, each painted once and dressed, and never left unpainted."""

import pytest
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QLineEdit, QWidget

from nonna.desk.forms.finder import Finder
from nonna.desk.look import style
from nonna.desk.look.wardrobe import Wardrobe
from nonna.desk.pages.loop.station import Station
from tests.support.hands import PATIENCE, shown_dialog


class Strokes(QObject):
    """Writes down which windows are painted."""

    def __init__(self, told):
        super().__init__()
        self.told = told

    def eventFilter(self, watched, event):
        if event.type() == QEvent.Type.Paint:
            self.told.append(("painted", watched))
        return False


def windows(qtbot, number):
    made = []
    for i in range(number):
        window = QWidget()
        window.setGeometry(300 * i, 0, 200, 100)  # one that is covered is not painted
        line = QLineEdit(window)
        line.move(5, 5)
        qtbot.addWidget(window)
        window.show()
        qtbot.waitExposed(window)
        made.append(window)
    return made


def test_two_windows_are_painted_once_dressed_one_after_the_other(qtbot, qapp):
    told: list[tuple[str, QWidget]] = []
    wardrobe = Wardrobe(qapp, lambda piece: (told.append(("worn", piece.window())), piece.update(), piece)[-1])
    both = windows(qtbot, 2)
    for window in both:
        wardrobe.dress(window)
    told.clear()
    strokes = Strokes(told)
    for window in both:
        window.update()  # a wish that comes up while the window is held
        window.installEventFilter(strokes)
    wardrobe.change()
    qtbot.waitUntil(lambda: not wardrobe.busy, timeout=120_000)
    first = told[0][1]
    (second,) = set(both) - {first}
    assert list(dict.fromkeys(told)) == [("worn", first), ("painted", first), ("worn", second), ("painted", second)]
    assert told.index(("painted", first)) == 2
    assert told.index(("painted", second)) > max(i for i, row in enumerate(told) if row == ("worn", second))
    assert all(window.updatesEnabled() for window in both)


def test_a_window_that_goes_or_cannot_be_dressed_leaves_none_unpainted(qtbot, qapp):
    def refuse(piece):
        if isinstance(piece, QLineEdit) and refusing:
            raise ValueError("no such colour")
        return piece

    refusing = False
    wardrobe = Wardrobe(qapp, refuse)
    both = windows(qtbot, 2)
    for window in both:
        wardrobe.dress(window)
    refusing = True
    wardrobe.change()
    with pytest.raises(ValueError, match="no such colour"):
        for _ in range(3):
            wardrobe._go_on()
    assert all(window.updatesEnabled() for window in both)
    refusing = False
    wardrobe.change()
    both[0].close()
    wardrobe.change()  # again, before the first change has ended
    qtbot.waitUntil(lambda: not wardrobe.busy, timeout=120_000)
    assert both[0].updatesEnabled()
    assert both[1].updatesEnabled()


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
        qtbot.waitUntil(style.settled, timeout=PATIENCE)
        qtbot.waitUntil(lambda: on_screen(desk) == as_drawn(desk), timeout=PATIENCE)


def test_another_theme_paints_each_link_of_the_loop_once(desk, hands, qtbot, monkeypatch):
    hands.press(Qt.Key.Key_F2)
    painted, paint = [], Station._paint
    monkeypatch.setattr(Station, "_paint", lambda self, p: (painted.append(self.link), paint(self, p)))
    desk.show_theme()
    qtbot.waitUntil(lambda: style.settled() and bool(painted), timeout=PATIENCE)
    assert len(painted) == len(set(painted)) == len(desk.loop.stations)


def on_screen(window):
    return window.screen().grabWindow(window.winId()).toImage().convertToFormat(QImage.Format.Format_RGB32)


def as_drawn(window):
    return window.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
