"""The one way a field is asked for on the screen: a line of text, a choice, a tick, or words where nothing is typed."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QWidget

from nonna.bench.form_fields import Asked, Sort
from nonna.desk.forms.widgets import label
from nonna.desk.look.style import worn
from nonna.wording.fields import field_help

NARROW = 10  #: letters that a choice is as wide as, so that it never makes a form wider
_RIGHT = (Sort.LENGTH, Sort.NUMBER, Sort.WHOLE, Sort.NUMBERS)


def field(asked: Asked, submit: Callable[[], None] | None = None) -> QWidget:
    """Return what asks for a field, with the text it starts with."""
    if asked.sort is Sort.SHOWN:
        return label(asked.value, "quiet")
    if asked.sort is Sort.YES and not asked.choices:
        made: QWidget = QCheckBox()
    elif asked.choices:
        made = choice(asked.title, asked.choices)
    else:
        made = line = worn(QLineEdit())
        line.setPlaceholderText(asked.hint)
        line.setAlignment(Qt.AlignmentFlag.AlignRight if asked.sort in _RIGHT else Qt.AlignmentFlag.AlignLeft)
        if submit is not None:
            line.returnPressed.connect(submit)
    made.setAccessibleName(asked.title)
    made.setToolTip(asked.help or field_help(asked.name))
    put_text(made, asked.value)
    return made


def choice(name: str, choices: tuple[tuple[str, str], ...], chosen: str = "") -> QComboBox:
    """Return a choice of (value, words); its list has a name too."""
    box = worn(QComboBox())
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(NARROW)
    for value, words in choices:
        box.addItem(words, value)
    box.setAccessibleName(name)
    box.view().setAccessibleName(f"{name}: choices")
    put_text(box, chosen)
    return box


def text_of(widget: QWidget) -> str:
    """Return what stands in a field: typed text, the value chosen, yes or no."""
    if isinstance(widget, QComboBox):
        return str(widget.currentData())
    if isinstance(widget, QCheckBox):
        return "yes" if widget.isChecked() else "no"
    return widget.text().strip() if isinstance(widget, (QLineEdit, QLabel)) else ""


def put_text(widget: QWidget, text: str) -> None:
    """Put a text into a field; a choice that does not have it takes its first."""
    if isinstance(widget, QComboBox):
        widget.setCurrentIndex(max(0, widget.findData(text)))
    elif isinstance(widget, QCheckBox):
        widget.setChecked(text == "yes")
    elif isinstance(widget, (QLineEdit, QLabel)):
        widget.setText(text)
