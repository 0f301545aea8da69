"""A program's text: read only, words told apart, the block at hand marked."""

from __future__ import annotations

import re

from PySide6.QtCore import QRect
from PySide6.QtGui import QColor, QTextCharFormat, QTextCursor, QTextDocument, QTextLayout
from PySide6.QtWidgets import QPlainTextEdit, QTextEdit, QWidget

from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current, font

_RULES = (
    (re.compile(r"\([^()]*\)"), "muted", False),
    (re.compile(r"\b[GM]\d+(?:\.\d+)?", re.IGNORECASE), "accent", True),
    (re.compile(r"#(?:\d+|\[)"), "due", False),
    (re.compile(r"\b(?:IF|GOTO|LT|GT|EQ|NE|GE|LE|ABS)\b", re.IGNORECASE), "bad", True),
)


def inks(text: str, palette: Palette) -> list[QTextLayout.FormatRange]:
    """Return the colours of a block's words; later ones lie over earlier ones."""
    found = []
    for pattern, ink, bold in reversed(_RULES):
        for hit in pattern.finditer(text):
            made = QTextLayout.FormatRange()
            made.start, made.length = hit.start(), hit.end() - hit.start()
            made.format.setForeground(QColor(getattr(palette, ink)))
            if bold:
                made.format.setFontWeight(700)
            found.append(made)
    return found


class ProgramText(QPlainTextEdit):
    """Shows a program; nothing can be typed into it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setReadOnly(True)
        self.setAccessibleName(self.tr("Program"))
        self.setFont(font(14))
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setFrameShape(QPlainTextEdit.Shape.NoFrame)
        self._line = 0
        self._coloured: set[int] = set()  #: blocks that were seen: colouring all of a long program takes seconds
        self.updateRequest.connect(self._colour_what_is_seen)

    def show_text(self, text: str) -> None:
        """Show another program."""
        if text != self.toPlainText():
            self._coloured.clear()
            self.setPlainText(text)
            self._line = 0
            self._colour_what_is_seen()

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        self._coloured.clear()
        self._colour_what_is_seen()
        self.viewport().update()

    def _colour_what_is_seen(self, _: QRect | None = None, __: int = 0) -> None:
        block, palette, new = self.firstVisibleBlock(), current(), []
        height = max(1.0, self.blockBoundingRect(block).height())
        for _line in range(int(self.viewport().height() / height) + 2):
            if not block.isValid():
                break
            if block.blockNumber() not in self._coloured:
                self._coloured.add(block.blockNumber())
                block.layout().setFormats(inks(block.text(), palette))
                new.append(block)
            block = block.next()
        if new:
            self.document().markContentsDirty(new[0].position(), new[-1].position() + new[-1].length())

    def mark_line(self, line: int) -> None:
        """Mark a block and bring it into sight."""
        document: QTextDocument = self.document()
        block = document.findBlockByNumber(max(0, line - 1))
        if not block.isValid():
            return
        self._line = line
        cursor = QTextCursor(block)
        mark = QTextEdit.ExtraSelection()
        mark.cursor = cursor
        mark.format.setBackground(QColor(current().wash))
        mark.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
        self.setExtraSelections([mark])
        self.setTextCursor(cursor)
        self.centerCursor()
