"""A few fields asked for together; what is wrong is said and nothing typed is lost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QDialog, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from nonna.bench.form_fields import Asked
from nonna.desk.forms.fields import field, put_text, text_of
from nonna.desk.forms.widgets import button, label
from nonna.errors import NonnaError


class FormDialog(QDialog):
    """Enter submits, Esc leaves. ``edited`` comes with every change, for sums that follow the typing."""

    submitted = Signal(object)  #: dict of texts by name
    edited = Signal(object)

    def __init__(
        self, title: str, hint: str, fields: Sequence[Asked], parent: QWidget, *, action: str = "Take it"
    ) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self.edits: dict[str, QWidget] = {}
        self._said = label("", wrap=True)
        self._said.setMinimumWidth(420)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(title, "title", wrap=True))
        if hint:
            column.addWidget(label(hint, "quiet", wrap=True))
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        for place, share in enumerate((2, 4, 1)):
            grid.setColumnStretch(place, share)
        for row, asked in enumerate(fields):
            grid.addWidget(label(asked.title, wrap=True), row, 0)
            grid.addWidget(self._editor(asked), row, 1)
            if asked.unit:
                grid.addWidget(label(asked.unit, "quiet", wrap=True), row, 2)
        column.addLayout(grid)
        column.addWidget(self._said)
        self._body = QVBoxLayout()
        column.addLayout(self._body)
        if action:
            column.addWidget(button(f"{action}   Enter", self.submit, action, main=True))
        self._action = action
        self.resize(520, 200)
        self._edited()

    def values(self) -> dict[str, str]:
        """Return what stands in the fields."""
        return {name: text_of(edit) for name, edit in self.edits.items()}

    def put(self, values: Mapping[str, str]) -> None:
        """Put texts into fields."""
        for name, text in values.items():
            put_text(self.edits[name], text)

    def say(self, words: str, tone: str = "") -> None:
        """Say something under the fields."""
        self._said.setText(words)
        self._said.show_tone(tone)

    def add_below(self, widget: QWidget) -> None:
        """Put something under what is said."""
        self._body.addWidget(widget)

    def submit(self) -> None:
        """Give the texts away; who takes them says `say` or `accept`."""
        self.submitted.emit(self.values())

    def refuse(self, error: NonnaError) -> None:
        """Say what is wrong and put the keyboard into its field."""
        self.say(error.message, "bad")
        edit = self.edits.get(error.where)
        if edit is not None:
            edit.setFocus()
            if isinstance(edit, QLineEdit):
                edit.selectAll()

    def _editor(self, asked: Asked) -> QWidget:
        made = self.edits[asked.name] = field(asked, self._on_enter)
        if isinstance(made, QComboBox):
            made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)  # a dialog has room for its words
            made.currentIndexChanged.connect(lambda _: self._edited())
        elif isinstance(made, QLineEdit):
            made.textEdited.connect(lambda _: self._edited())
        return made

    def _on_enter(self) -> None:
        if self._action:
            self.submit()

    def _edited(self) -> None:
        self.edited.emit(self.values())
