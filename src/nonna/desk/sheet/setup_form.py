"""What a sheet starts from: a form made from the procedure's model, each number with where it comes from."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Literal, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nonna.desk.look.style import worn
from nonna.desk.sheet.controller import SheetController
from nonna.desk.widgets import label
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.procedures.session import SetupField
from nonna.procedures.wording import choice_words
from nonna.wording.lengths import length, number


def _box(name: str) -> QComboBox:
    """Return a box of choices that never makes the form wider."""
    box = worn(QComboBox())
    box.setAccessibleName(name)
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(10)
    box.view().setAccessibleName(f"{name}: choices")
    return box


class SetupForm(QWidget):
    """Edits the setup; a wrong entry is said beside its field and stays to be corrected."""

    def __init__(self, controller: SheetController, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._controller = controller
        self._edits: dict[SetupField, tuple[QLineEdit, QLabel]] = {}
        self._plain: set[SetupField] = set()  #: fields that are numbers without a unit
        self._temperature: QLineEdit | None = None
        self._said = label("", "", wrap=True, tone="bad")
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(8)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.addWidget(label(self.tr("What this sheet starts from"), "title"))
        column.addWidget(label(self.tr("F9 goes back to the drawing."), "quiet"))
        column.addSpacing(8)
        column.addLayout(self._grid)
        column.addWidget(self._said)
        column.addStretch(1)
        self._build()

    def refresh(self) -> None:
        """Show the fields as they are; what is being typed stays."""
        c = self._controller
        for name, (edit, source) in self._edits.items():
            value = name.value_in(c.session.bench.setup)
            plain = name in self._plain
            if not edit.isModified():
                shown = "" if value is None else f"{value:g}" if plain else length(float(value), c.units, unit=False)
                edit.setText(shown)
            came = c.opening.carried.get(str(name))
            words = f"record {came['record']}" if came else ("" if value is None else self.tr("given"))
            source.setText(words if plain else f"{c.units.symbol}  {words}")
        if self._temperature is not None and not self._temperature.isModified():
            self._temperature.setText(number(float(c.session.bench.conditions.get("temperature_c", 20.0)), 1))

    def _build(self) -> None:
        c = self._controller
        if c.opening.choices:
            self._row(self.tr("Master"), self._masters(), label(""))
        if c.session.bench.masters:
            self._temperature = self._edit(self.tr("Temperature"), "", self._set_temperature)
            self._row(self.tr("Temperature"), self._temperature, label("°C", "quiet"))
        found = c.session.procedure
        if found.variants and not found.variant_of_master:
            self._row(self.tr("How"), self._ways(), label(""))
        decided = {name for way in found.variants for name in way.setup}
        for name, info in found.setup_model.model_fields.items():
            if get_origin(info.annotation) is Literal and name not in decided:
                self._row(info.title or name, self._words(name, info), label(""))
        for name, info in found.setup_model.model_fields.items():
            inner = info.annotation
            if isinstance(inner, type) and issubclass(inner, BaseModel):
                for part, its in inner.model_fields.items():
                    self._number(SetupField(part, name), its)
            else:
                self._number(SetupField(name), info)

    def _number(self, name: SetupField, info: FieldInfo) -> None:
        """Add a length or a plain number to the form."""
        extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
        if extra.get("unit") not in ("mm", "1"):
            return
        if extra["unit"] == "1":
            self._plain.add(name)
        title, required = info.title or name.name, info.is_required()
        edit = self._edit(title, info.description or "", partial(self._set_field, name, required))
        edit.setPlaceholderText(self.tr("needed") if required else self.tr("none"))
        self._edits[name] = (edit, label("", "quiet"))
        self._row(title, edit, self._edits[name][1])

    def _ways(self) -> QComboBox:
        """The ways of doing this procedure."""
        c = self._controller
        box = _box(self.tr("How it is done"))
        for way in c.session.procedure.variants:
            box.addItem(way.title, way.key)
            if way.key == c.session.bench.variant:
                box.setCurrentIndex(box.count() - 1)
        box.activated.connect(lambda i: c.choose_variant(box.itemData(i)))
        return box

    def _words(self, name: str, info: FieldInfo) -> QComboBox:
        """A word of the setup to be chosen, with what each means as a tip."""
        c = self._controller
        box = _box(info.title or name)
        box.setToolTip(info.description or "")
        for word in get_args(info.annotation):
            box.addItem(choice_words(word), word)
            if word == c.session.bench.setup.get(name, info.default):
                box.setCurrentIndex(box.count() - 1)
        box.activated.connect(lambda i: c.set_field(SetupField(name), box.itemData(i)))
        return box

    def _row(self, title: str, middle: QWidget, right: QLabel) -> None:
        row = self._grid.rowCount()
        self._grid.addWidget(label(title, wrap=True), row, 0)
        self._grid.addWidget(middle, row, 1)
        self._grid.addWidget(right, row, 2)

    def _edit(self, title: str, help_words: str, take: Callable[[str], None]) -> QLineEdit:
        edit = worn(QLineEdit())
        edit.setAccessibleName(title)
        edit.setToolTip(help_words)
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)

        def finished() -> None:
            if not edit.isModified():
                return
            try:
                take(edit.text().strip())
            except NonnaError as error:
                self._said.setText(f"{title}: {error.message}")
                return
            edit.setModified(False)
            self._said.setText("")
            self.refresh()

        edit.editingFinished.connect(finished)
        return edit

    def _masters(self) -> QComboBox:
        c = self._controller
        box = _box(self.tr("Master"))
        chosen = c.opening.cards.get("master", {}).get("id")
        for card in c.opening.choices:
            mark = "" if card.traceable else self.tr(" (shop-made: self-consistent)")
            box.addItem(f"{card.name}{mark}", card.id)
            if card.id == chosen:
                box.setCurrentIndex(box.count() - 1)
        box.activated.connect(lambda i: c.choose_master(box.itemData(i)))
        return box

    def _set_field(self, name: SetupField, required: bool, text: str) -> None:
        c = self._controller
        if not text and required:
            raise NonnaError("missing-field", "this sheet cannot do without it.", str(name))
        if name in self._plain and text:
            c.set_field(name, parse_number(text, "", name.name))
            return
        c.set_field(name, parse_length(text, c.units) if text else None)

    def _set_temperature(self, text: str) -> None:
        celsius = parse_number(text, "", "temperature")
        if not -20.0 <= celsius <= 60.0:
            raise NonnaError("out-of-range", "a number of °C between −20 and 60 is wanted.", "temperature")
        self._controller.set_temperature(celsius)
