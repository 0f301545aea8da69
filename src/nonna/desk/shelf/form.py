"""A form for one card, made from its model; lists of parts are shown, not edited."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from pydantic import BaseModel
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLineEdit, QVBoxLayout, QWidget

from nonna.bench.asked import Asked, Sort, asked_in
from nonna.bench.shelving import ShelfGroup
from nonna.desk.fields import field, put_text, text_of
from nonna.desk.look import style
from nonna.desk.shelf.line_trial import LineTrial
from nonna.desk.widgets import label
from nonna.errors import NonnaError
from nonna.shop.connection import Connected
from nonna.wording.lengths import Units

HIDDEN = ("id", "retired")
PATTERN = "pattern"


class CardForm(QWidget):
    """Shows a card's fields; gives back what stands in them. Each group's fields are made once."""

    submitted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._made: dict[str, _Fields] = {}
        self._card: dict[str, Any] = {}
        self._fields: _Fields | None = None

    @property
    def shown(self) -> Mapping[str, Any]:
        """The card as it was handed in."""
        return self._card

    def show_card(self, group: ShelfGroup, card: Mapping[str, Any]) -> None:
        """Show a card; an empty one starts from the model's usual values."""
        self._card = dict(card)
        if group.key not in self._made:
            made = self._made[group.key] = _Fields(group.card, self.submitted.emit)
            self._column.addWidget(made)
            style.dress(made)
        before, self._fields = self._fields, self._made[group.key]
        self._fields.put(self._card)
        if before is not self._fields:
            if before is not None:
                before.hide()
            self._fields.show()

    def take_keyboard(self) -> None:
        """Give the keyboard to the first field."""
        if self._fields is not None:
            self._fields.first.setFocus()

    def card(self) -> dict[str, Any]:
        """Return the card as it stands in the form.

        Raises: NonnaError ``not-a-number`` naming the field; what was typed stays.
        """
        typed = self._fields.typed() if self._fields is not None else {}
        return {name: value for name, value in {**self._card, **typed}.items() if value is not None}


class _Fields(QWidget):
    """The fields of one kind of card, made from its model: title, and an editor of what it holds."""

    def __init__(self, model: type[BaseModel], submit: Callable[[], None]) -> None:
        super().__init__()
        self._asked: dict[str, Asked] = {}
        self._editors: dict[str, QWidget] = {}
        self._trial: LineTrial | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(5)
        shown = [asked for asked in asked_in(model) if asked.name not in HIDDEN]
        shown.sort(key=lambda asked: asked.name in Connected.model_fields)  # how its line is spoken to stands last
        for asked in shown:
            self._asked[asked.name] = asked
            editor = self._editors[asked.name] = field(asked, submit)
            row = grid.rowCount()
            grid.addWidget(label(asked.title, "quiet"), row, 0)
            grid.addWidget(editor, row, 1)
            if asked.name == PATTERN and isinstance(editor, QLineEdit):
                self._trial = LineTrial(editor)
                grid.addWidget(self._trial, row + 1, 0, 1, 2)
        grid.setRowStretch(grid.rowCount(), 1)

    @property
    def first(self) -> QWidget:
        """The first field."""
        return next(iter(self._editors.values()))

    def put(self, card: Mapping[str, Any]) -> None:
        """Put a card's values into the fields; what a new one does not have is the model's usual."""
        if self._trial is not None:
            self._trial.begin(str(card.get(PATTERN, "")))
        for name, asked in self._asked.items():
            put_text(self._editors[name], asked.text(card.get(name, asked.usual)))

    def typed(self) -> dict[str, Any]:
        """Return what stands in the fields. Raises: NonnaError naming the field, which takes the keyboard."""
        if self._trial is not None:
            self._trial.must_be_tried()
        made: dict[str, Any] = {}
        for name, asked in self._asked.items():
            if asked.sort is Sort.SHOWN:
                continue
            try:
                made[name] = asked.read(text_of(self._editors[name]), Units.MM)
            except NonnaError:
                self._editors[name].setFocus()
                raise
        return made
