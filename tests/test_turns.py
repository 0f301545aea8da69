"""What is put off gets a turn of the event loop of its own, and goes with whoever it was for."""

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QWidget

from nonna.desk.paints_apart import PaintsApart
from nonna.desk.turns import next_turn


def test_each_piece_has_a_turn_of_its_own_in_the_order_they_came(qapp):
    owner, done = QObject(), []
    for name in "abc":
        next_turn(owner, lambda name=name: done.append(name))
    assert done == []
    seen = []
    for _ in range(12):
        QApplication.processEvents()
        seen.append(len(done))
    assert done == ["a", "b", "c"]
    assert all(after - before <= 1 for before, after in zip([0, *seen], seen, strict=False))


def test_nothing_is_done_for_whoever_has_gone(qapp):
    owner, done = QObject(), []
    next_turn(owner, lambda: done.append("late"))
    owner.deleteLater()
    for _ in range(12):
        QApplication.sendPostedEvents(None, 52)  # deletions
        QApplication.processEvents()
    assert done == []


def test_a_window_is_painted_after_the_turn_that_changed_it_and_not_for_ever(qtbot):
    painted = []

    class Page(QWidget):
        def paintEvent(self, event):
            painted.append(1)

    page = Page()
    qtbot.addWidget(page)
    PaintsApart(page)
    page.show()
    for _ in range(20):
        QApplication.processEvents()
    before = len(painted)
    page.update()
    QApplication.sendPostedEvents()
    assert len(painted) == before  # asked for, not painted yet
    for _ in range(20):
        QApplication.processEvents()
    assert len(painted) == before + 1
