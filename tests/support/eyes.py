"""Measures whether what a window shows is wholly painted: no word cut, no label over another, nothing out of reach
sideways.
"""

from collections.abc import Iterator

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QFontMetrics
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QComboBox,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QScrollArea,
    QTableView,
    QWidget,
)

from nonna.desk.forms.widgets import GivesWay

SLACK = 2  #: pixels of rounding


def unpainted(root: QWidget) -> list[str]:
    """Return what is not wholly painted in a window, or can only be reached by scrolling sideways."""
    found, seen = [], []
    for widget in root.findChildren(QWidget):
        if not widget.isVisible() or widget.window() is not root.window() or isinstance(widget, GivesWay):
            continue  # the last are wholly painted or not at all
        why = _cut(widget)
        if why:
            found.append(f"{_name(widget)}: {why}")
        if isinstance(widget, (QLabel, QPushButton, QLineEdit)) and _text(widget):
            why = _out_of_reach(widget)
            if why:
                found.append(f"{_name(widget)}: {why}")
            else:
                seen.append(widget)
    return found + list(_overprinted(seen))


def _text(widget: QWidget) -> str:
    return widget.text() if isinstance(widget, (QLabel, QAbstractButton, QLineEdit)) else ""


def _name(widget: QWidget) -> str:
    return f"{type(widget).__name__} {(_text(widget) or widget.accessibleName())[:50]!r}"


def _lines(widget: QWidget) -> list[str]:
    text = _text(widget)
    return (text.replace("&", "") if isinstance(widget, QLabel) and widget.buddy() else text).split("\n")


def _cut(widget: QWidget) -> str:
    """Say what of a widget's own words it does not paint."""
    metrics = QFontMetrics(widget.font())
    if isinstance(widget, QLabel) and widget.text():
        room = widget.contentsRect()
        if not widget.wordWrap():
            wide = max(metrics.horizontalAdvance(line) for line in _lines(widget))
            return f"{wide} px in {room.width()}" if wide > room.width() + SLACK else _low(widget, metrics, room)
        words = [word for line in _lines(widget) for word in line.split()]
        longest = max((metrics.horizontalAdvance(word) for word in words), default=0)
        if longest > room.width() + SLACK:
            return f"a word of {longest} px in {room.width()}"
        flags = int(Qt.TextFlag.TextWordWrap)
        high = metrics.boundingRect(QRect(0, 0, room.width(), 10_000), flags, widget.text()).height()
        return f"{high} px high in {room.height()}" if high > room.height() + SLACK else ""
    if isinstance(widget, QPushButton) and widget.text():
        wide = max(metrics.horizontalAdvance(line) for line in _lines(widget))
        return f"{wide} px in {widget.width()}" if wide > widget.width() - 4 else _low(widget, metrics, widget.rect())
    if isinstance(widget, QLineEdit) and widget.text():
        wide, room_ = metrics.horizontalAdvance(widget.text()), widget.width() - 8
        return f"{wide} px in {room_}" if wide > room_ and any(c.isdigit() for c in widget.text()) else ""
    if isinstance(widget, QComboBox) and widget.currentText():
        wide = metrics.horizontalAdvance(widget.currentText())
        return f"{wide} px in {widget.width() - 24}" if wide > widget.width() - 24 else ""
    if isinstance(widget, QTableView):
        sideways = widget.horizontalScrollBarPolicy() is not Qt.ScrollBarPolicy.ScrollBarAlwaysOff
        typed = widget.editTriggers() is not QTableView.EditTrigger.NoEditTriggers
        return _head_cut(widget) or (
            "" if sideways and typed else _cells_cut(widget)
        )  # one to type in goes along with its cursor
    if isinstance(widget, QListWidget):
        wide = max((metrics.horizontalAdvance(widget.item(i).text()) for i in range(widget.count())), default=0)
        room_ = widget.viewport().width()
        return f"{wide} px in {room_}" if wide > room_ and not widget.wordWrap() else ""
    fits = getattr(widget, "fits", None)
    return "its words are cut" if callable(fits) and not fits() else ""


def _low(widget: QWidget, metrics: QFontMetrics, room: QRect) -> str:
    high = metrics.lineSpacing() * len(_lines(widget))
    return f"{high} px high in {room.height()}" if high > room.height() + SLACK else ""


def _head_cut(table: QTableView) -> str:
    """Say which title of a column is cut."""
    header = table.horizontalHeader()
    if header.isHidden():
        return ""
    metrics, wraps = QFontMetrics(header.font()), bool(int(header.defaultAlignment()) & int(Qt.TextFlag.TextWordWrap))
    for column in range(table.model().columnCount()):
        words = str(table.model().headerData(column, Qt.Orientation.Horizontal) or "")
        wide = max((metrics.horizontalAdvance(part) for part in (words.split() if wraps else [words])), default=0)
        if not table.isColumnHidden(column) and wide > table.columnWidth(column):
            return f"the title {words!r} in {table.columnWidth(column)} px"
    return ""


def _cells_cut(table: QTableView) -> str:
    fits = getattr(table, "fits", None)
    if callable(fits):
        return "" if fits() else "cells are cut"
    model, metrics = table.model(), QFontMetrics(table.font())
    for column in range(model.columnCount()):
        if table.isColumnHidden(column):
            continue
        left, width = table.columnViewportPosition(column), table.columnWidth(column)
        if left < 0 or left + width > table.viewport().width() + SLACK:
            return f"column {column} is out of sight"
        for row in range(min(model.rowCount(), 60)):
            words = str(model.index(row, column).data() or "")
            if metrics.horizontalAdvance(words) > width and any(c.isdigit() for c in words):
                return f"{words!r} in {width} px"
    return ""


def _out_of_reach(widget: QWidget) -> str:
    """Say whether a widget's place is cut by something around it that no scrolling up or down brings back."""
    rect, around = QRect(QPoint(0, 0), widget.size()), widget
    while around.parentWidget() is not None and not around.isWindow():
        parent = around.parentWidget()
        rect.translate(around.pos())
        around = parent
        area = parent.parentWidget()
        scrolls = isinstance(area, QAbstractScrollArea) and area.viewport() is parent
        room = parent.rect()
        if rect.left() < room.left() - SLACK or rect.right() > room.right() + SLACK:
            return f"sideways {rect.left()}..{rect.right()} in {room.width()} of {type(parent).__name__}"
        if scrolls and isinstance(area, QScrollArea):
            rect = QRect(rect.left(), max(0, min(rect.top(), room.bottom())), rect.width(), 1)
        elif rect.top() < room.top() - SLACK or rect.bottom() > room.bottom() + SLACK:
            return f"below {rect.top()}..{rect.bottom()} in {room.height()} of {type(parent).__name__}"
    return ""


def _overprinted(widgets: list[QWidget]) -> Iterator[str]:
    by_home: dict[QWidget, list[QWidget]] = {}
    for widget in widgets:
        by_home.setdefault(_page_of(widget), []).append(widget)
    for home, those in by_home.items():
        places = [(w, QRect(w.mapTo(home, QPoint(0, 0)), w.size())) for w in those]
        for i, (one, here) in enumerate(places):
            for other, there in places[i + 1 :]:
                shared = here.intersected(there)
                if (
                    shared.width() > SLACK
                    and shared.height() > SLACK
                    and not other.isAncestorOf(one)
                    and not one.isAncestorOf(other)
                ):
                    yield f"{_name(one)} over {_name(other)}"


def _page_of(widget: QWidget) -> QWidget:
    around = widget
    while around.parentWidget() is not None and not around.isWindow():
        area = around.parentWidget().parentWidget() if around.parentWidget() else None
        if isinstance(area, QScrollArea) and area.viewport() is around.parentWidget():
            return around
        around = around.parentWidget()
    return around
