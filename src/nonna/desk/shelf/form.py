"""A form for one card, made from its model; lists of parts are shown, not edited."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel, WithJsonSchema
from pydantic.fields import FieldInfo
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nonna.bench.shelving import Group
from nonna.desk.look import style
from nonna.desk.look.style import worn
from nonna.desk.shelf.line_trial import LineTrial
from nonna.desk.widgets import label
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.procedures.wording import choice_words
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

    def show_card(self, group: Group, card: Mapping[str, Any]) -> None:
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
        self._model, self._submit = model, submit
        self._editors: dict[str, QWidget] = {}
        self._trial: LineTrial | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(5)
        shown = [(name, info) for name, info in model.model_fields.items() if name not in HIDDEN]
        shown.sort(key=lambda field: field[0] in Connected.model_fields)  # how its line is spoken to stands last
        for name, info in shown:
            title = info.title or name
            editor = self._editors[name] = self._editor(name, info)
            editor.setAccessibleName(title)
            row = grid.rowCount()
            grid.addWidget(label(title, "quiet"), row, 0)
            grid.addWidget(editor, row, 1)
            if name == PATTERN and isinstance(editor, QLineEdit):
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
        for name, editor in self._editors.items():
            value = card.get(name, _usual(self._model.model_fields[name]))
            if isinstance(editor, QCheckBox):
                editor.setChecked(bool(value))
            elif isinstance(editor, QComboBox):
                editor.setCurrentIndex(max(0, editor.findData(str(value or ""))))
            elif isinstance(editor, QLineEdit):
                numbers = editor.property("wanted") == "numbers"
                editor.setText(
                    "; ".join(f"{v:g}" for v in value) if numbers else "" if value is None else _plain(value)
                )
            elif isinstance(editor, QLabel):
                editor.setText(
                    f"{len(value)} in gear.json" if isinstance(value, list) else "in gear.json" if value else "none"
                )

    def typed(self) -> dict[str, Any]:
        """Return what stands in the fields. Raises: NonnaError naming the field, which takes the keyboard."""
        if self._trial is not None:
            self._trial.must_be_tried()
        made: dict[str, Any] = {}
        for name, editor in self._editors.items():
            if isinstance(editor, QCheckBox):
                made[name] = editor.isChecked()
            elif isinstance(editor, QComboBox):
                made[name] = str(editor.currentData())
            elif isinstance(editor, QLineEdit):
                made[name] = self._read(name, editor)
        return made

    def _read(self, name: str, edit: QLineEdit) -> Any:
        text, kind = edit.text().strip(), edit.property("wanted")
        title = self._model.model_fields[name].title or name
        if kind == "text":
            return text
        try:
            if kind == "numbers":
                return [_number(name, title, part) for part in text.replace(";", " ").split()]
            if not text:
                return None
            return (
                _whole(name, title, text)
                if self._model.model_fields[name].annotation is int
                else _number(name, title, text)
            )
        except NonnaError:
            edit.setFocus()
            raise

    def _editor(self, name: str, info: FieldInfo) -> QWidget:
        usual, words, text = _usual(info), _words_of(info), info.annotation is str
        if isinstance(usual, bool):
            return QCheckBox()
        if words:
            choice = worn(QComboBox())
            for word in words:
                choice.addItem(choice_words(str(word)), str(word))
            return choice
        if (isinstance(usual, list) and name != "screws_deg") or name == "adjuster":
            return label("", "quiet")
        edit = worn(QLineEdit())
        edit.setPlaceholderText(str(info.examples[0]) if info.examples else "")
        edit.setProperty("wanted", "numbers" if isinstance(usual, list) else "text" if text else "number")
        edit.setAlignment(Qt.AlignmentFlag.AlignLeft if text else Qt.AlignmentFlag.AlignRight)
        edit.returnPressed.connect(self._submit)
        return edit


def _usual(info: FieldInfo) -> Any:
    """Return what a new card has in a field, None where that is for a person to say."""
    return None if info.is_required() else info.get_default(call_default_factory=True)


def _number(name: str, title: str, text: str) -> float:
    """Return what a person typed into a field; a length may carry its unit. Raises: NonnaError naming the field."""
    if not name.endswith("_mm"):
        return parse_number(text, title, name)
    try:
        return parse_length(text, Units.MM)
    except NonnaError as error:
        raise NonnaError(error.code, f"{title}: {error.message}", name) from error


def _whole(name: str, title: str, text: str) -> int:
    value = _number(name, title, text)
    if value != int(value):
        raise NonnaError("not-a-number", f"{title}: a whole number is wanted.", name)
    return int(value)


def _words_of(info: FieldInfo) -> Sequence[str]:
    """Return the words a field may hold, none where it holds something else."""
    if get_origin(info.annotation) is Literal:
        return tuple(str(word) for word in get_args(info.annotation))
    schema = next((m.json_schema for m in info.metadata if isinstance(m, WithJsonSchema)), None)
    return tuple((schema or {}).get("enum", ()))


def _plain(value: Any) -> str:
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)
