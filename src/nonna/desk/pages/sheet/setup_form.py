"""What a sheet starts from: a form made from the procedure's model, each number with where it comes from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from pydantic import BaseModel
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nonna.bench.form_fields import Asked, Sort, asked_in
from nonna.bench.session.sheet.open_sheet import OpenSheet
from nonna.bench.sheet.temperature import parse_temperature
from nonna.desk.forms.fields import choice, field
from nonna.desk.forms.widgets import label
from nonna.errors import NonnaError
from nonna.procedures.session import SetupField
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import length, number, small

_RESOLUTION = "setup.resolution_mm"
_TEMPERATURE = Asked("temperature", "Temperature", sort=Sort.NUMBER)


class SetupForm(QWidget):
    """Edits the setup; a wrong entry is said beside its field and stays to be corrected."""

    def __init__(self, controller: OpenSheet, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._controller = controller
        self._edits: dict[SetupField, tuple[QLineEdit, QLabel]] = {}
        self._plain: set[SetupField] = set()  #: fields that are numbers without a unit
        self._texts: dict[str, QLineEdit] = {}
        self._temperature: QLineEdit | None = None
        self.said = label("", "", wrap=True, tone="bad")
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(8)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.addWidget(label(self.tr("What this sheet starts from"), "title"))
        column.addWidget(label(self.tr("F9 goes back to the drawing."), "quiet"))
        column.addSpacing(8)
        column.addLayout(self._grid)
        column.addWidget(self.said)
        column.addStretch(1)
        self._build()

    def refresh(self) -> None:
        """Show the fields as they are; what is being typed stays."""
        c = self._controller
        for name, (edit, source) in self._edits.items():
            value = name.value_in(c.session.facts.setup)
            plain = name in self._plain
            if not edit.isModified():
                shown = (
                    ""
                    if value is None
                    else f"{value:g}"
                    if plain
                    else length(as_number(value), c.units.fine, unit=False)
                )
                edit.setText(shown)
            came = c.opening.carried.get(str(name))
            words = f"record {came.record}" if came else ("" if value is None else self.tr("given"))
            if str(name) == _RESOLUTION and c.session.display_mm > as_number(value or 0.0):
                words = self.tr("typed to {}").format(small(c.session.display_mm, c.units))
            source.setText(words if plain else f"{c.units.symbol}  {words}")
        for word, line in self._texts.items():
            if not line.isModified():
                line.setText(c.session.facts.setup.word(word))
        if self._temperature is not None and not self._temperature.isModified():
            self._temperature.setText(number(float(c.session.facts.conditions.get("temperature_c", 20.0)), 1))

    def _build(self) -> None:
        c = self._controller
        if c.opening.choices:
            self._row(self.tr("Master"), self._masters())
        if c.session.facts.masters:
            self._temperature = self._edit(_TEMPERATURE, self._set_temperature)
            self._row(_TEMPERATURE.title, self._temperature, label("°C", "quiet"))
        found = c.session.procedure
        if found.variants and not found.variant_of_master:
            self._row(self.tr("How"), self._ways())
        decided = {name for way in found.variants for name in way.setup}
        fields = tuple(asked_in(found.setup_model))
        for asked in fields:
            if asked.sort is Sort.CHOICE and asked.name not in decided:
                self._row(asked.title, self._words(asked))
        for asked in fields:
            if asked.sort is Sort.TEXT:
                self._texts[asked.name] = self._edit(asked, partial(self._set_text, asked.name))
                self._row(asked.title, self._texts[asked.name])
                continue
            inner = found.setup_model.model_fields[asked.name].annotation
            if isinstance(inner, type) and issubclass(inner, BaseModel):
                for part in asked_in(inner):
                    self._number(SetupField(part.name, asked.name), part)
            else:
                self._number(SetupField(asked.name), asked)

    def _number(self, name: SetupField, asked: Asked) -> None:
        """Add a length or a plain number to the form."""
        if asked.unit not in ("mm", "1"):
            return
        plain = asked.unit == "1"
        if plain:
            self._plain.add(name)
        hint = self.tr("needed") if asked.needed else self.tr("none")
        asked = replace(asked, sort=Sort.NUMBER if plain else Sort.LENGTH, hint=hint)
        edit = self._edit(asked, partial(self._set_field, name, asked))
        self._edits[name] = (edit, label("", "quiet"))
        self._row(asked.title, edit, self._edits[name][1])

    def _ways(self) -> QComboBox:
        """The ways of doing this procedure."""
        c = self._controller
        ways = tuple((way.key, way.title) for way in c.session.procedure.variants)
        box = choice(self.tr("How it is done"), ways, c.session.facts.variant)
        box.activated.connect(lambda i: c.choose_variant(box.itemData(i)))
        return box

    def _words(self, asked: Asked) -> QComboBox:
        """A word of the setup to be chosen, with what each means as a tip."""
        c = self._controller
        box = choice(asked.title, asked.choices, c.session.facts.setup.word(asked.name, str(asked.usual)))
        box.setToolTip(asked.help)
        box.activated.connect(lambda i: c.set_field(SetupField(asked.name), box.itemData(i)))
        return box

    def _row(self, title: str, middle: QWidget, right: QLabel | None = None) -> None:
        row = self._grid.rowCount()
        self._grid.addWidget(label(title, wrap=True), row, 0)
        self._grid.addWidget(middle, row, 1, 1, 2 if right is None else 1)
        if right is not None:
            self._grid.addWidget(right, row, 2)

    def _edit(self, asked: Asked, take: Callable[[str], None]) -> QLineEdit:
        edit = field(asked)
        if not isinstance(edit, QLineEdit):
            raise TypeError(f"{asked.name} is not typed")

        def finished() -> None:
            if not edit.isModified():
                return
            try:
                take(edit.text().strip())
            except NonnaError as error:
                self.said.setText(error.message)
                return
            edit.setModified(False)
            self.said.setText("")
            self.refresh()

        edit.editingFinished.connect(finished)
        return edit

    def _masters(self) -> QComboBox:
        c = self._controller
        mark = self.tr(" (shop-made: self-consistent)")
        cards = tuple((card.id, card.name if card.traceable else f"{card.name}{mark}") for card in c.opening.choices)
        box = choice(self.tr("Master"), cards, str(c.opening.cards.get("master", {}).get("id", "")))
        box.activated.connect(lambda i: c.choose_master(box.itemData(i)))
        return box

    def _set_field(self, name: SetupField, asked: Asked, text: str) -> None:
        c = self._controller
        if not text and asked.needed:
            raise NonnaError("missing-field", "{title}: this sheet cannot do without it.", str(name), title=asked.title)
        c.set_field(name, asked.read(text, c.units))

    def _set_text(self, name: str, text: str) -> None:
        self._controller.set_field(SetupField(name), text or None)

    def _set_temperature(self, text: str) -> None:
        self._controller.thermometer.read(parse_temperature(text))
