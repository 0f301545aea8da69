"""What is put off gets a turn of the event loop of its own, and goes with whoever it was for."""

import gc
import weakref

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication

from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.garbage_collection import Collector


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


def test_garbage_is_looked_for_but_not_in_what_stays(qapp):
    class Ring:
        pass

    def litter():
        ring = Ring()
        ring.itself, ring.more = ring, [[] for _ in range(2000)]  # more than is looked for at all
        return weakref.ref(ring)

    was_on = gc.isenabled()
    collector = Collector(QObject())
    try:
        loading = litter()
        collector.spare_what_stays()
        later = litter()
        collector.collect_what_is_due()
        assert later() is None and not gc.isenabled()
        assert loading() is not None  # set aside with all that stays
    finally:
        gc.unfreeze()
        if was_on:
            gc.enable()
