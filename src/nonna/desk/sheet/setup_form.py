"""What a sheet starts from: a form made from the procedure's model, each number with where it comes from."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from nonna.desk.sheet.controller import SheetController
from nonna.desk.widgets import emptied, label
from nonna.metrology.errors import NonnaError
from nonna.metrology.words import length, number
from nonna.procedures.entry import parse_length


class SetupForm(QWidget):
    """Edits the setup; a wrong entry is said beside its field and stays to be corrected."""

    def __init__(self, controller: SheetController, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._controller = controller
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.addWidget(label(self.tr("What this sheet starts from"), "title"))
        column.addWidget(label(self.tr("F9 goes back to the drawing."), "quiet"))
        self._said = label("", "", wrap=True, tone="bad")
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(8)
        column.addSpacing(8)
        column.addLayout(self._grid)
        column.addWidget(self._said)
        column.addStretch(1)

    def refresh(self) -> None:
        """Show the fields as they are."""
        emptied(self._grid)
        self._said.setText("")
        c, row = self._controller, 0
        if c.opening.choices:
            self._grid.addWidget(label(self.tr("Master")), row, 0)
            self._grid.addWidget(self._masters(), row, 1, 1, 2)
            row += 1
        if c.session.bench.masters:
            self._grid.addWidget(label(self.tr("Temperature, °C")), row, 0)
            edit = QLineEdit(number(float(c.session.bench.conditions.get("temperature_c", 20.0)), 1))
            edit.setAccessibleName(self.tr("Temperature"))
            edit.editingFinished.connect(lambda e=edit: self._temperature(e))
            self._grid.addWidget(edit, row, 1)
            row += 1
        for name, info in c.session.procedure.setup_model.model_fields.items():
            extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else None
            if extra is None or extra.get("unit") != "mm":
                continue
            self._field(row, name, info.title or name, info.description or "", info.is_required())
            row += 1

    def _field(self, row: int, name: str, title: str, help_words: str, required: bool) -> None:
        c = self._controller
        value = c.session.bench.setup.get(name)
        edit = QLineEdit(length(float(value), c.units, unit=False) if value is not None else "")
        edit.setAccessibleName(title)
        edit.setToolTip(help_words)
        edit.setPlaceholderText(self.tr("needed") if required else self.tr("none"))
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        edit.editingFinished.connect(lambda: self._edited(name, title, edit, required))
        came = c.opening.carried.get(f"setup.{name}")
        source = f"record {came['record']}" if came else ("" if value is None else self.tr("given"))
        self._grid.addWidget(label(title, wrap=True), row, 0)
        self._grid.addWidget(edit, row, 1)
        self._grid.addWidget(label(f"{c.units.symbol}  {source}", "quiet"), row, 2)

    def _masters(self) -> QComboBox:
        c = self._controller
        box = QComboBox()
        box.setAccessibleName(self.tr("Master"))
        chosen = c.opening.cards.get("master", {}).get("id")
        for card in c.opening.choices:
            mark = "" if card.traceable else self.tr(" (shop-made: self-consistent)")
            box.addItem(f"{card.name}{mark}", card.id)
            if card.id == chosen:
                box.setCurrentIndex(box.count() - 1)
        box.activated.connect(lambda i: c.choose_master(box.itemData(i)))
        return box

    def _edited(self, name: str, title: str, edit: QLineEdit, required: bool) -> None:
        if not edit.isModified():
            return
        edit.setModified(False)
        c = self._controller
        try:
            if not edit.text().strip():
                if required:
                    raise NonnaError("missing-field", "this sheet cannot do without it.", name)
                value = None
            else:
                value = parse_length(edit.text(), c.units)
        except NonnaError as error:
            self._said.setText(f"{title}: {error.message}")
            return
        c.set_field(name, value)

    def _temperature(self, edit: QLineEdit) -> None:
        if not edit.isModified():
            return
        edit.setModified(False)
        try:
            celsius = float(edit.text().replace(",", "."))
            if not -20.0 <= celsius <= 60.0:
                raise ValueError
        except ValueError:
            self._said.setText(self.tr("Temperature: a number of °C between −20 and 60 is wanted."))
            return
        self._controller.set_temperature(celsius)
