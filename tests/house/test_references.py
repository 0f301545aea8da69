"""The Qt binding neither takes nor leaves references to None, True and False: a desk may stay open for days."""

import sys

import pytest
from PySide6 import __version__
from PySide6.QtCore import QAbstractTableModel, QModelIndex, QObject, Qt, Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QTableView, QWidget

TIMES, SLACK = 2000, 100


class Painted(QWidget):
    """Overrides what returns nothing."""

    def paintEvent(self, event):
        painter = QPainter(self)
        painter.drawLine(0, 0, 5, 5)
        painter.end()


class Model(QAbstractTableModel):
    """Gives None for most roles."""

    def rowCount(self, parent=QModelIndex()):  # noqa: B008 - Qt's signature
        return 0 if parent.isValid() else 20

    def columnCount(self, parent=QModelIndex()):  # noqa: B008 - Qt's signature
        return 3

    def data(self, index, role=Qt.ItemDataRole.DisplayRole):
        return "x" if role == Qt.ItemDataRole.DisplayRole else None


class Dial(QObject):
    """Emits as a live dial does."""

    shown = Signal(float)
    told = Signal(object)
    on = Signal(bool)


def counts():
    return {repr(thing): sys.getrefcount(thing) for thing in (None, True, False)}


@pytest.mark.skipif(sys.version_info >= (3, 12), reason="there these three live for ever anyway")
def test_nothing_is_taken_by_painting_and_emitting(qtbot):
    widget, table, dial, heard = Painted(), QTableView(), Dial(), []
    table.setModel(Model())
    dial.shown.connect(lambda value: None)
    dial.told.connect(lambda what: None)
    dial.on.connect(heard.append)
    for shown in (widget, table):
        qtbot.addWidget(shown)
        shown.resize(300, 200)
        shown.show()

    def work(times):
        for i in range(times):
            widget.repaint()
            table.viewport().repaint()
            dial.shown.emit(0.001 * i)
            dial.told.emit(None)
            dial.on.emit(i % 2 == 0)
        heard.clear()

    work(100)
    before = counts()
    work(TIMES)
    after = counts()
    lost = {name: after[name] - before[name] for name in before}
    assert all(abs(change) < SLACK for change in lost.values()), (__version__, lost)
