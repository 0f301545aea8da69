"""The bar on top and the rail on the left."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.page import on_rail
from nonna.desk.forms.widgets import GivesWay, button, label
from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current
from nonna.wording.lengths import Units

BAR_PX = 56
WAITING_PX = 24  #: around the words of what waits
NARROW_PX, ROOMY_PX = 860, 1000  #: below which the program's name goes, and the kind of machine


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
        self.setFixedHeight(BAR_PX)
        self._brand, self._machine, self._kind = (
            label("Nonna", "brand"),
            label("", "bar-strong"),
            GivesWay("", "bar-quiet", ""),
        )
        self._climate = label("", "bar")
        self._waiting = button(
            "",
            lambda: self.asked.emit(CommandId.TAKE_UP),
            self.tr("Take up the sheet that waits"),
            focus=False,
            look="waiting",
        )
        self._waiting.hide()
        self._waits = ""
        self._units = button(
            "", lambda: self.asked.emit(CommandId.UNITS), self.tr("Millimetres or inches"), focus=False, look="bar"
        )
        self._operator = button(
            "", lambda: self.asked.emit(CommandId.OPERATOR), self.tr("Who signs"), focus=False, look="bar"
        )
        self._find = button(
            self.tr("Find  Ctrl K"),
            lambda: self.asked.emit(CommandId.FIND),
            self.tr("Find a command"),
            focus=False,
            look="bar",
        )
        self.menu = button(
            self.tr("Menu"), lambda: self.asked.emit(CommandId.MENU), self.tr("Open the menu"), focus=False, look="bar"
        )
        row = self._row = QHBoxLayout(self)
        row.setContentsMargins(24, 0, 20, 0)
        row.setSpacing(14)
        row.addWidget(self._brand)
        row.addWidget(self._machine)
        row.addWidget(self._kind, 1)
        for widget in (self._waiting, self._climate, self._units, self._operator, self._find, self.menu):
            row.addWidget(widget)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Where there is little room the name of the program goes, and what a key does is short."""
        super().resizeEvent(event)
        self._share_out()

    def show_waiting(self, words: str) -> None:
        """Show what waits unsigned behind other pages."""
        self._waits = words
        self._waiting.setVisible(bool(words))
        self._share_out()

    def minimumSizeHint(self) -> QSize:
        """What is left where there is little room."""
        kept = [self._machine, self._climate, self._units, self._operator, self.menu]
        kept += [self._waiting] if self._waits else [self._find]
        margins = self._row.contentsMargins()
        wide = sum(w.minimumSizeHint().width() for w in kept) + self._row.spacing() * len(kept)
        return QSize(wide + margins.left() + margins.right(), BAR_PX)

    def _share_out(self) -> None:
        narrow = self.width() < NARROW_PX
        self._brand.setVisible(not narrow)
        self._kind.setVisible(self.width() >= ROOMY_PX)
        self._find.setText(self.tr("Find") if narrow else self.tr("Find  Ctrl K"))
        self._find.setVisible(not (narrow and self._waits))  # its key stays
        margin = 12 if narrow else 24
        self._row.setContentsMargins(margin, 0, margin - 4, 0)
        self._row.setSpacing(8 if narrow else 14)
        whole = f"Unsigned: {self._waits}   Esc"
        brand = 0 if narrow else self._brand.sizeHint().width() + 2 * self._row.spacing()
        find = 0 if narrow else self._find.sizeHint().width() + self._row.spacing()
        room = self.width() - self.minimumSizeHint().width() + self._waiting.minimumSizeHint().width() - brand - find
        wanted = self._waiting.fontMetrics().horizontalAdvance(whole) + WAITING_PX
        self._waiting.setText(whole if wanted <= room else self.tr("Unsigned   Esc"))

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
        for page in on_rail():
            words = f"{page.words}\n{page.shortcut}"
            made = button(words, partial(self.asked.emit, page.key), page.words, focus=False, look="rail")
            made.setCheckable(True)
            self._group.addButton(made)
            self._buttons[page.key] = made
            column.addWidget(made)
        column.addStretch()

    def show_place(self, place: str) -> None:
        """Mark where we are."""
        self._buttons[place].setChecked(True)
