"""A form for one card, made from its model; lists of parts are shown, not edited."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from PySide6.QtCore import QEvent, QObject, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QGridLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.form_fields import Asked, Sort, asked_in
from nonna.bench.shelf.card_figure import asks_of, figure_of
from nonna.bench.shelf.shelving import ShelfGroup
from nonna.desk.forms.fields import field, put_text, text_of
from nonna.desk.forms.widgets import ANY_PX, label
from nonna.desk.look import style
from nonna.desk.pages.shelf.drawing import FIELD_PX, LEAST, CardDrawing
from nonna.desk.pages.shelf.line_trial import LineTrial
from nonna.errors import NonnaError
from nonna.figures.figure import Label
from nonna.shop.cards.connection import Connected
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import Units

HIDDEN = ("id", "retired")
PATTERN = "pattern"
SHORT = 12  #: letters of a choice that has room beside another field
TWO_COLUMNS_PX = 700


class CardForm(QWidget):
    """Shows a card's fields; gives back what stands in them. Each group's fields are made once."""

    submitted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._made: dict[str, _Fields] = {}
        self._card: dict[str, Plain] = {}
        self._fields: _Fields | None = None

    @property
    def shown(self) -> Mapping[str, Plain]:
        """The card as it was handed in."""
        return self._card

    def show_card(self, group: ShelfGroup, card: Mapping[str, Plain]) -> None:
        """Show a card; an empty one starts from the model's usual values."""
        self._card = dict(card)
        if group.key not in self._made:
            made = self._made[group.key] = _Fields(group, self.submitted.emit)
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

    def card(self) -> dict[str, Plain]:
        """Return the card as it stands in the form.

        Raises: NonnaError ``not-a-number`` naming the field; what was typed stays.
        """
        typed = self._fields.typed() if self._fields is not None else {}
        return {name: value for name, value in {**self._card, **typed}.items() if value is not None}


def _in_words(asked: Asked) -> bool:
    """Whether a field wants a line of its own."""
    return asked.sort in (Sort.TEXT, Sort.SHOWN) or any(len(words) > SHORT for _, words in asked.choices)


class _Fields(QWidget):
    """The fields of one kind of card, made from its model: at their places in a drawing, or in a list."""

    def __init__(self, group: ShelfGroup, submit: Callable[[], None]) -> None:
        super().__init__()
        self._group = group
        self._asked: dict[str, Asked] = {}
        self._editors: dict[str, QWidget] = {}
        self._titles: dict[str, QWidget] = {}
        self._trial: LineTrial | None = None
        self._drawing = CardDrawing()
        self._arranged: tuple[object, ...] = ()
        shown = [asked for asked in asked_in(group.card) if asked.name not in HIDDEN]
        shown.sort(key=lambda asked: asked.name in Connected.model_fields)  # how its line is spoken to stands last
        for asked in shown:
            self._asked[asked.name] = asked
            editor = self._editors[asked.name] = field(asked, submit)
            editor.setMinimumWidth(FIELD_PX)
            self._titles[asked.name] = label(asked.title, "quiet", wrap=True)
            if isinstance(editor, QLineEdit):
                editor.textChanged.connect(self._draw)
                if asked.name == PATTERN:
                    self._trial = LineTrial(editor)
            elif isinstance(editor, QComboBox):
                editor.currentIndexChanged.connect(self._draw)
            elif isinstance(editor, QCheckBox):
                editor.toggled.connect(self._draw)
            editor.installEventFilter(self)
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(5)
        self._grid.setHorizontalSpacing(12)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._drawing)
        column.addLayout(self._grid)
        column.addStretch(1)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """The line of the field that has the keyboard stands out."""
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self._draw()
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The drawing gives way to the numbers where both have no room, and two columns become one."""
        super().resizeEvent(event)
        self._draw()

    def _draw(self) -> None:
        """Draw the card as it stands in the fields, and give each field its place."""
        lit = next((name for name, editor in self._editors.items() if editor.hasFocus()), "")
        figure = figure_of(self._group.key, {n: text_of(e) for n, e in self._editors.items()}, lit)
        if self.width() < LEAST:
            figure = None
        drawn = () if figure is None else [s.key for s in figure.strokes if isinstance(s, Label) and s.key]
        kind = text_of(self._editors["kind"]) if "kind" in self._editors else ""
        listed = tuple(n for n in self._editors if n not in drawn and asks_of(self._group.key, kind, n))
        if figure is None:
            self._drawing.let_go()
        arranged = (listed, self.width() >= TWO_COLUMNS_PX)
        if arranged != self._arranged:
            self._arranged = arranged
            self._arrange(listed, 2 if self.width() >= TWO_COLUMNS_PX else 1, set(drawn))
        self._drawing.setVisible(figure is not None)
        if figure is not None:
            self._drawing.show_card(figure, self._editors)

    def _arrange(self, listed: Sequence[str], columns: int, drawn: Collection[str]) -> None:
        holder = QApplication.focusWidget()
        while self._grid.takeAt(0) is not None:
            pass
        for name, editor in self._editors.items():
            there = name in listed
            self._titles[name].setParent(self)
            self._titles[name].setVisible(there)
            if name not in drawn:
                editor.setParent(self)
                editor.setMinimumWidth(FIELD_PX)
                editor.setMaximumWidth(ANY_PX)
                editor.setVisible(there)
        if self._trial is not None:
            self._trial.setParent(self)
        row, column = 0, 0
        for name in listed:
            whole = columns > 1 and _in_words(self._asked[name])
            if whole and column:
                row, column = row + 1, 0
            if columns == 1 and self._asked[name].long:
                self._grid.addWidget(self._titles[name], row, 0, 1, 2)
                self._grid.addWidget(self._editors[name], row + 1, 0, 1, 2)
                row += 2
                continue
            self._grid.addWidget(self._titles[name], row, 2 * column)
            self._grid.addWidget(self._editors[name], row, 2 * column + 1, 1, 3 if whole else 1)
            column = column + 1 if not whole and column + 1 < columns else 0
            row += column == 0
            if name == PATTERN and self._trial is not None:
                self._grid.addWidget(self._trial, row, 0, 1, 2 * columns)
                row += 1
        for each in range(2):
            self._grid.setColumnStretch(2 * each, 3 if each < columns else 0)
            self._grid.setColumnStretch(2 * each + 1, 2 if each < columns else 0)
        if holder is not None and holder in self._editors.values() and holder.isVisible():
            holder.setFocus()

    @property
    def first(self) -> QWidget:
        """The first field."""
        return next(iter(self._editors.values()))

    def put(self, card: Mapping[str, Plain]) -> None:
        """Put a card's values into the fields; what a new one does not have is the model's usual."""
        if self._trial is not None:
            self._trial.begin(str(card.get(PATTERN, "")))
        for name, asked in self._asked.items():
            put_text(self._editors[name], asked.text(card.get(name, asked.usual)))

    def typed(self) -> Mapping[str, Plain]:
        """Return what stands in the fields. Raises: NonnaError naming the field, which takes the keyboard."""
        if self._trial is not None:
            self._trial.must_be_tried()
        made: dict[str, Plain] = {}
        for name, asked in self._asked.items():
            if asked.sort is Sort.SHOWN:
                continue
            try:
                made[name] = asked.read(text_of(self._editors[name]), Units.MM)
            except NonnaError:
                self._editors[name].setFocus()
                raise
        return made
