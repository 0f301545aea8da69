"""A line that an instrument sent, pasted below its pattern: what it would be read as, before the card is kept."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from nonna.desk.forms.widgets import label
from nonna.desk.look.style import worn
from nonna.errors import NonnaError
from nonna.procedures.instrument_line import read_as

NOT_TRIED = "Paste a line it sends below its pattern, and see that the number is right, before the card is kept."


class LineTrial(QWidget):
    """Reads the pasted line by the pattern as it stands, at each change of either."""

    def __init__(self, pattern: QLineEdit) -> None:
        super().__init__()
        self._pattern, self._kept = pattern, ""
        self.line = worn(QLineEdit())
        self.line.setPlaceholderText(self.tr("paste a line it sends, to try the pattern"))
        self.line.setAccessibleName(self.tr("A line to try the pattern on"))
        self.line.setToolTip(self.tr("Paste a line as the instrument sent it; what is read of it stands beside."))
        self._means = label("", "strong", wrap=True)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.line, 3)
        row.addWidget(self._means, 2)
        self.line.textChanged.connect(self._read)
        pattern.textChanged.connect(self._read)
        self.line.returnPressed.connect(pattern.returnPressed)

    def begin(self, kept: str) -> None:
        """Begin with a card's pattern; one that is not changed need not be tried."""
        self._kept = kept
        self.line.clear()

    def must_be_tried(self) -> None:
        """Raises: NonnaError (the pattern was changed and no line was read by it)."""
        pattern = self._pattern.text().strip()
        if pattern in ("", self._kept):
            return
        if not self.line.text().strip() or " mm" not in read_as(self.line.text(), pattern):
            self.line.setFocus()
            raise NonnaError("missing-field", NOT_TRIED, "pattern")

    def _read(self) -> None:
        line = self.line.text()
        try:
            words = read_as(line, self._pattern.text().strip()) if line.strip() else ""
        except NonnaError as error:
            words = error.message
        self._means.setText(words)
