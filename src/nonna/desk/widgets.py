"""Small pieces that every view is made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QLabel, QLayout, QPushButton, QScrollArea, QTableView, QVBoxLayout, QWidget

from nonna.desk.look.style import current

CORNER_PX = 10


def label(words: str = "", role: str = "", *, wrap: bool = False, tone: str = "") -> QLabel:
    """Return a label; role and tone pick its looks from the style sheet."""
    made = QLabel(words)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setWordWrap(wrap)
    if role:
        made.setProperty("role", role)
    if tone:
        made.setProperty("tone", tone)
    return made


class Card(QFrame):
    """A sheet of paper that things lie on. Painted here, so that it can be dressed piece by piece."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFrameShape(QFrame.Shape.Box)
        self.setLineWidth(1)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the paper and its edge."""
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QColor(current().faint))
            painter.setBrush(QColor(current().card))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), CORNER_PX, CORNER_PX)


def card(
    *, tone: str = "", margins: tuple[int, int, int, int] = (16, 14, 16, 14), spacing: int = 8
) -> tuple[QFrame, QVBoxLayout]:
    """Return a card and the column inside it."""
    frame = QFrame() if tone else Card()
    if tone:
        frame.setProperty("tone", tone)
    column = QVBoxLayout(frame)
    column.setContentsMargins(*margins)
    column.setSpacing(spacing)
    return frame, column


def button(
    words: str, pressed: Callable[[], Any], name: str = "", *, main: bool = False, focus: bool = True
) -> QPushButton:
    """Return a button with an accessible name."""
    made = QPushButton(words)
    made.setAccessibleName(name or words)
    made.setProperty("main", main)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.setAutoDefault(False)
    if not focus:
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.clicked.connect(lambda: pressed())
    return made


def set_property(widget: QWidget, name: str, value: object) -> None:
    """Change a property the style sheet looks at, and have the looks follow."""
    if widget.property(name) != value:
        widget.setProperty(name, value)
        widget.style().unpolish(widget)
        widget.style().polish(widget)
        for child in widget.findChildren(QLabel):
            child.style().polish(child)


class _Scrolled(QScrollArea):
    """Scrolls by wheel and bar; keys go on to the page."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        event.ignore()


def scrolled(inside: QWidget, width: int = 0) -> QScrollArea:
    """Return a widget in an area that scrolls up and down instead of making the window taller."""
    area = _Scrolled()
    area.setWidget(inside)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    if width:
        area.setFixedWidth(width)
    return area


def emptied(layout: QLayout) -> None:
    """Take every widget out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def plain_rows(table: QTableView) -> None:
    """Make a table a calm list: whole rows, one at a time, no grid, no row numbers."""
    table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QTableView.SelectionMode.SingleSelection)
    table.setShowGrid(False)
    table.setFrameShape(QFrame.Shape.NoFrame)
    table.verticalHeader().hide()
