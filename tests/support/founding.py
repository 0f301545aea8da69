"""A shop set up by its questions, as hands would."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.start.setting_up import SetUp
from nonna.desk.start.welcome import Welcome
from tests.support.hands import shown_text

MM = {
    "units": "1", "shop": "Harbour Workshop", "operator": "M. Teal", "kind": "1", "name": "Birch", "travel_x": "600",
    "travel_y": "400",
    "travel_z": "500", "pad": "14", "overtravel": "4", "zero_x": "2", "setter_x": "-50", "setter_y": "50",
    "setter_z": "-300",
    "master_length": "120", "free": "1", "certified_length": "120.003", "U": "0.0008", "diameter": "16",
    "due": "2031-05-30",
}  # fmt: skip


def answer(pages, answers, before=()):
    """Answer page after page by keyboard; ``before`` holds what is typed wrongly first. Returns how many answers it
    took.
    """
    slips, count = dict(before), 0
    while (question := pages.interview.question) is not None:
        said = slips.pop(question.key, None) or answers.get(question.key)
        at = pages.entry if pages.entry.isVisible() else pages
        if said is None:
            QTest.keyClick(at, Qt.Key.Key_PageDown)
        elif at is pages:
            QTest.keyClicks(at, said)
        else:
            pages.entry.clear()
            QTest.keyClicks(at, said)
            QTest.keyClick(at, Qt.Key.Key_Return)
        count += 1
        assert count < 100, (question.key, shown_text(pages))
    return count


def begun(qtbot, qapp, folder):
    """Show the first window there is, and take "Set up"; return it and the questions."""
    style.load_fonts()
    style.apply(qapp, LIGHT)
    welcome = Welcome(folder)
    qtbot.addWidget(welcome)
    welcome.show()
    begin = next(b for b in welcome.findChildren(QPushButton) if "Set up" in b.text())
    QTest.keyClick(begin, Qt.Key.Key_Space)
    (asked,) = welcome.findChildren(SetUp)
    return welcome, asked
