"""A form for one card, made from its model; lists of parts are shown, not edited."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Literal, get_args, get_origin

from pydantic import WithJsonSchema
from pydantic.fields import FieldInfo
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QWidget

from nonna.bench.shelving import Group
from nonna.desk.look.style import worn
from nonna.desk.widgets import emptied, label
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.procedures.wording import choice_words
from nonna.wording.lengths import Units

HIDDEN = ("id", "retired")
LABELS = {
    "name": "Name", "kind": "Kind", "length_mm": "Length at reference, mm", "U_length_mm": "U of the length, mm",
    "diameter_mm": "Diameter at reference, mm", "U_diameter_mm": "U of the diameter, mm", "k": "k of both U",
    "cte_per_k": "Expansion, 1/K", "cte_u_per_k": "Its standard uncertainty, 1/K", "traceable": "Traceable certificate",
    "reference_c": "Certificate holds at, °C", "roundness_mm": "Roundness, mm", "certificate": "Certificate number",
    "due": "Due, year-month-day", "kept": "Where it lies", "resolution_mm": "Resolution, mm",
    "range_mm": "Shows at most, either way, mm", "pattern": "A line it sends, such as {skip}A{value}", "mpe_mm": "Maximum permissible error, mm", "lever_deg": "Lever angle, degrees", "machine": "On machine",
    "mounted": "Stands on its machine", "span_mm": "Span between the ends, mm", "ball_mm": "Ball diameter, mm", "length": "Length, mm",
    "largest_mm": "Largest diameter, mm",
    **{f"{a}_{end}_mm": f"{a.upper()} travel {end}, mm" for a in "xyz" for end in ("from", "to")},
    "rapid_xy_mm_min": "Rapid in X and Y, mm/min", "rapid_z_mm_min": "Rapid in Z, mm/min",
    "acceleration_xy_mm_s2": "Acceleration X and Y, mm/s²", "acceleration_z_mm_s2": "Acceleration Z, mm/s²",
    "tool_change_s": "Tool change takes, s", "tool_change_z_mm": "Tool change at Z, mm", "max_rpm": "Top speed, rpm",
    "pocket_count": "Pockets", "has_setter": "Has a setter", "setter_x_mm": "Setter at X, mm", "setter_y_mm": "Setter at Y, mm",
    "trigger_plane_mm": "Trigger plane at about Z, mm", "shape": "Pad", "width_x_mm": "Pad in X, mm", "width_y_mm": "Pad in Y, mm",
    "height_mm": "Setter's height, mm", "overtravel_mm": "Overtravel, mm", "clear_sides": "Clear sides, such as +x -y",
    "trigger_latency_s": "Trigger late by, s", "trigger_jitter_s": "... give or take, s", "repeatability_mm": "Repeats within (1 s), mm", "screws_deg": "Adjusting screws, degrees", "screws": "Levelling screws", "adjuster": "Adjuster",
}  # fmt: skip


class CardForm(QWidget):
    """Shows a card's fields; gives back what stands in them."""

    submitted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(5)
        self._card: dict[str, Any] = {}
        self._edits: dict[str, QWidget] = {}

    @property
    def shown(self) -> Mapping[str, Any]:
        """The card as it was handed in."""
        return self._card

    def show_card(self, group: Group, card: Mapping[str, Any]) -> None:
        """Show a card; an empty one starts from the model's usual values."""
        self._card = dict(card)
        self._edits = {}
        emptied(self._grid)
        row = 0
        for name, info in group.card.model_fields.items():
            if name in HIDDEN:
                continue
            value = self._card.get(name, None if info.is_required() else info.get_default(call_default_factory=True))
            widget = self._editor(name, info.annotation, value, _words_of(info))
            self._grid.addWidget(label(LABELS.get(name, name), "quiet"), row, 0)
            self._grid.addWidget(widget, row, 1)
            row += 1

    def card(self) -> dict[str, Any]:
        """Return the card as it stands in the form.

        Raises: NonnaError ``not-a-number`` naming the field; what was typed stays.
        """
        made = dict(self._card)
        for name, widget in self._edits.items():
            if isinstance(widget, QCheckBox):
                made[name] = widget.isChecked()
            elif isinstance(widget, QComboBox):
                made[name] = str(widget.currentData())
            elif isinstance(widget, QLineEdit):
                made[name] = self._typed(name, widget)
        return {name: value for name, value in made.items() if value is not None}

    def _typed(self, name: str, edit: QLineEdit) -> Any:
        text, kind = edit.text().strip(), edit.property("wanted")
        if kind == "text":
            return text
        try:
            if kind == "numbers":
                return [_number(name, part) for part in text.replace(";", " ").split()]
            return _number(name, text) if text else None
        except NonnaError:
            edit.setFocus()
            raise

    def _editor(self, name: str, annotation: Any, value: Any, words: Sequence[str]) -> QWidget:
        if isinstance(value, bool):
            box = QCheckBox()
            box.setChecked(value)
            self._edits[name] = box
        elif words:
            choice = worn(QComboBox())
            for word in words:
                choice.addItem(choice_words(str(word)), str(word))
            choice.setCurrentIndex(max(0, choice.findData(str(value or ""))))
            self._edits[name] = choice
        elif (isinstance(value, list) and name != "screws_deg") or name == "adjuster":
            words = f"{len(value)} in gear.json" if isinstance(value, list) else "in gear.json" if value else "none"
            return label(words, "quiet")
        else:
            edit = worn(QLineEdit())
            numbers = isinstance(value, list)
            edit.setProperty("wanted", "numbers" if numbers else "text" if _is_text(annotation) else "number")
            edit.setText("; ".join(f"{v:g}" for v in value) if numbers else "" if value is None else _plain(value))
            edit.setAlignment(Qt.AlignmentFlag.AlignLeft if _is_text(annotation) else Qt.AlignmentFlag.AlignRight)
            edit.returnPressed.connect(self.submitted)
            self._edits[name] = edit
        made = self._edits[name]
        made.setAccessibleName(LABELS.get(name, name))
        return made


def _number(name: str, text: str) -> float:
    """Return what a person typed into a field; a length may carry its unit. Raises: NonnaError naming the field."""
    title = LABELS.get(name, name)
    if not name.endswith("_mm"):
        return parse_number(text, title, name)
    try:
        return parse_length(text, Units.MM)
    except NonnaError as error:
        raise NonnaError(error.code, f"{title}: {error.message}", name) from error


def _words_of(info: FieldInfo) -> Sequence[str]:
    """Return the words a field may hold, none where it holds something else."""
    if get_origin(info.annotation) is Literal:
        return tuple(str(word) for word in get_args(info.annotation))
    schema = next((m.json_schema for m in info.metadata if isinstance(m, WithJsonSchema)), None)
    return tuple((schema or {}).get("enum", ()))


def _is_text(annotation: Any) -> bool:
    return annotation is str


def _plain(value: Any) -> str:
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)
