"""Lengths in every school: the whole table counted from the gauge line, a reference tool or the probe."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from nonna.bench.form_fields import Asked
from nonna.bench.tray.lengths_known import Known
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.plain_rows import plain_rows, wrapped_heads
from nonna.desk.look.style import worn
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length
from nonna.shop.cards.schools import LengthTable, School, changed, doubts, shifted
from nonna.shop.texts.csv_rows import rows_csv
from nonna.wording.lengths import Units, length, small

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


class LengthsDialog(FormDialog):
    """Shows the table as it would stand; Enter writes it as CSV."""

    def __init__(self, known: Known, units: Units, parent: QWidget) -> None:
        tools = tuple((name, name) for name in known.lengths)
        schools = [
            (School.ABSOLUTE.value, "the gauge line (absolute)"),
            (School.RELATIVE.value, "a reference tool (relative)"),
        ]
        if known.probe_mm is not None:
            schools.append((School.PROBE.value, "the probe as zero"))
        fields = [
            Asked("school", "Counted from", School.ABSOLUTE.value, tuple(schools)),
            Asked("reference", "Reference tool", tools[0][0], tools),
            Asked("amount", "Add to all lengths", "0", unit=units.symbol),
        ]
        self._known, self._units = known, units
        self.table = worn(QTableWidget(len(known.lengths), 3))
        super().__init__(
            "Lengths in another school",
            "The doubt all lengths share is said once.",
            fields,
            parent,
            action="Write it as CSV",
        )
        plain_rows(self.table)
        self.table.setAccessibleName(self.tr("Lengths"))
        self.table.setHorizontalHeaderLabels(
            [self.tr("Tool"), self.tr("From the gauge line"), self.tr("In this school")]
        )
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        wrapped_heads(self.table)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setMinimumHeight(260)
        self.add_below(self.table)
        self.edited.connect(self._show)
        self._show(self.values())

    def made(self, values: Mapping[str, str]) -> LengthTable:
        """Return the table as chosen. Raises: NonnaError naming the field."""
        school = School(values["school"])
        zero = {School.ABSOLUTE: 0.0, School.RELATIVE: self._known.lengths[values["reference"]]}.get(
            school, self._known.probe_mm or 0.0
        )
        try:
            amount = parse_length(values["amount"] or "0", self._units)
        except NonnaError as error:
            raise NonnaError(error.code, error.message, "amount") from error
        return shifted(changed(LengthTable.absolute(self._known.lengths), school, zero), amount)

    def csv_text(self) -> str:
        """Return the table as CSV, with what it is counted from in its header."""
        values = self.values()
        table = self.made(values)
        name = {School.ABSOLUTE: "gauge line", School.RELATIVE: values["reference"], School.PROBE: "probe"}[
            table.school
        ]
        rows = [(tool.removeprefix("T"), str(value)) for tool, value in table.lengths.items()]
        return rows_csv([("tool", f"length_mm counted from {name}"), *rows])

    def _show(self, values: Mapping[str, str]) -> None:
        try:
            table = self.made(values)
        except NonnaError as error:
            self.say(error.message, "bad")
            return
        known, u = self._known, self._units
        for row, (name, value) in enumerate(table.lengths.items()):
            words = (name, length(known.lengths[name], u, unit=False), length(float(value), u, unit=False))
            for column, text in enumerate(words):
                self.table.setItem(row, column, QTableWidgetItem(text))
        zero_u = known.own_u.get(values["reference"], 0.0) if table.school is School.RELATIVE else known.probe_u
        common = doubts(known.own_u, known.plane_u, table.school, zero_u).common
        what = {
            School.ABSOLUTE: "the setter's trigger plane",
            School.RELATIVE: f"{values['reference']}'s own, the plane cancels",
            School.PROBE: "the probe's own, the plane cancels",
        }[table.school]  # fmt: skip
        self.say(f"All lengths share ± {small(2.0 * common, u)}: {what}.")
