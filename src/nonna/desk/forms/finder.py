"""The command palette: type a few letters, Enter."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from nonna.desk.look.style import worn


@dataclass(frozen=True, slots=True)
class Offer:
    """One line of the palette."""

    key: str
    words: str
    keys: str = ""
    more: str = ""  #: what it is found by too


def found(choices: Sequence[Offer], wanted: Sequence[str]) -> list[Offer]:
    """Return the choices that hold every word: those with words that begin so first, then inside a word, then in the
    help.
    """
    begin, own, more = list[Offer](), list[Offer](), list[Offer]()
    for choice in choices:
        words = choice.words.lower()
        if all(f" {word}" in f" {words}" for word in wanted):
            begin.append(choice)
        elif all(word in words for word in wanted):
            own.append(choice)
        elif all(word in f"{words} {choice.more.lower()}" for word in wanted):
            more.append(choice)
    return begin + own + more


class Finder(QDialog):
    """Lists choices that hold every word typed."""

    chosen = Signal(str)

    def __init__(self, choices: Sequence[Offer], parent: QWidget, hint: str = "") -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._choices = tuple(choices)
        self.line = worn(QLineEdit())
        self.line.setPlaceholderText(hint or self.tr("What do you want to do?"))
        self.line.setAccessibleName(self.tr("Find a command"))
        self.line.setToolTip(self.tr("A few letters of what you want, in any order; Enter does the one on top."))
        self.list = worn(QListWidget())
        self.list.setAccessibleName(self.tr("Commands found"))
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setWordWrap(True)  # no name is cut
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.resize(560, 420)
        self.line.textChanged.connect(self._filter)
        self.line.installEventFilter(self)
        self.list.itemClicked.connect(lambda _: self._accept())
        self._filter("")

    def _filter(self, text: str) -> None:
        self.list.clear()
        wanted = text.lower().split()
        for choice in found(self._choices, wanted):
            item = QListWidgetItem(f"{choice.words}    {choice.keys}".rstrip())
            item.setData(Qt.ItemDataRole.UserRole, choice.key)
            item.setToolTip(choice.more.partition("\n")[0])
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Arrows move in the list while the typing stays in the line."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None:
                row = max(0, min(self.list.count() - 1, self.list.currentRow() + step))
                self.list.setCurrentRow(row)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._accept()
                return True
        return super().eventFilter(watched, event)

    def _accept(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.accept()
            self.chosen.emit(item.data(Qt.ItemDataRole.UserRole))
