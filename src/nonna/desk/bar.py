"""The bar on top and the rail on the left."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nonna.bench.state import ShopState
from nonna.desk.do import Do
from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current
from nonna.desk.widgets import GivesWay, button, label
from nonna.wording.lengths import Units

PLACES = (
    (Do.LOOP, "Loop", "F2"),
    (Do.TOOLS, "Tools", "F3"),
    (Do.SHELF, "Shelf", "F10"),
    (Do.BOOK, "Book", "F4"),
)


class _Plate(QWidget):
    """An area in a colour of its own."""

    GROUND = ""

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:
            painter.setPen(Qt.PenStyle.NoPen)  # not fillRect: for it the binding makes all its ready gradients first
            painter.setBrush(QColor(getattr(current(), self.GROUND)))
            painter.drawRect(self.rect())


class Bar(_Plate):
    """Which machine, how warm, which unit, who signs."""

    GROUND = "bar"
    asked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(56)
        brand, self._machine, self._kind = (
            label("Nonna", "brand"),
            label("", "bar-strong"),
            GivesWay("", "bar-quiet", ""),
        )
        self._climate = GivesWay("", "bar", "")
        self._waiting = button(
            "",
            lambda: self.asked.emit(Do.TAKE_UP),
            self.tr("Take up the sheet that waits"),
            focus=False,
            look="waiting",
        )
        self._waiting.hide()
        self._units = button(
            "", lambda: self.asked.emit(Do.UNITS), self.tr("Millimetres or inches"), focus=False, look="bar"
        )
        self._operator = button("", lambda: self.asked.emit(Do.OPERATOR), self.tr("Who signs"), focus=False, look="bar")
        find = button(
            self.tr("Find  Ctrl K"),
            lambda: self.asked.emit(Do.FIND),
            self.tr("Find a command"),
            focus=False,
            look="bar",
        )
        self.menu = button(
            self.tr("Menu"), lambda: self.asked.emit(Do.MENU), self.tr("Open the menu"), focus=False, look="bar"
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 0, 20, 0)
        row.setSpacing(14)
        row.addWidget(brand)
        row.addSpacing(10)
        row.addWidget(self._machine)
        row.addWidget(self._kind, 1)
        for widget in (self._waiting, self._climate, self._units, self._operator, find, self.menu):
            row.addWidget(widget)

    def show_waiting(self, words: str) -> None:
        """Show what waits unsigned behind other pages."""
        self._waiting.setText(f"Unsigned: {words}   Esc")
        self._waiting.setVisible(bool(words))

    def show_state(self, state: ShopState, units: Units, operator: str) -> None:
        """Show the machine and the settings."""
        self._machine.setText(state.machine)
        self._kind.setText(f"{state.machine_kind} · {state.shop}")
        read = f" ± {2 * state.temperature[1]:g}" if not state.thermometer else self.tr(" assumed")
        self._climate.setText(f"{state.temperature[0]:g} °C{read}")
        self._climate.setToolTip(state.thermometer)
        self._units.setText(f"{units.value}  F5")
        self._operator.setText(operator)


class Rail(_Plate):
    """The places."""

    GROUND = "rail"
    asked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(88)
        self._group = QButtonGroup(self)
        self._buttons: dict[str, QPushButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 14, 4, 14)
        column.setSpacing(10)
        for do, words, key in PLACES:
            made = button(f"{words}\n{key}", partial(self.asked.emit, do), words, focus=False, look="rail")
            made.setCheckable(True)
            self._group.addButton(made)
            self._buttons[do] = made
            column.addWidget(made)
        column.addStretch()

    def show_place(self, place: str) -> None:
        """Mark where we are."""
        self._buttons[place].setChecked(True)
