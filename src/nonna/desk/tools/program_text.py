"""A program's text: read only, words told apart, the block at hand marked."""

from __future__ import annotations

import re

from PySide6.QtGui import QColor, QSyntaxHighlighter, QTextCharFormat, QTextCursor, QTextDocument
from PySide6.QtWidgets import QPlainTextEdit, QTextEdit, QWidget

from nonna.desk.look.style import current, font

_RULES = (
    (re.compile(r"\([^()]*\)"), "muted", False),
    (re.compile(r"\b[GM]\d+(?:\.\d+)?", re.IGNORECASE), "accent", True),
    (re.compile(r"#(?:\d+|\[)"), "due", False),
    (re.compile(r"\b(?:IF|GOTO|LT|GT|EQ|NE|GE|LE|ABS)\b", re.IGNORECASE), "bad", True),
)


class _Inks(QSyntaxHighlighter):
    def highlightBlock(self, text: str) -> None:
        for pattern, ink, bold in reversed(_RULES):
            made = QTextCharFormat()
            made.setForeground(QColor(getattr(current(), ink)))
            if bold:
                made.setFontWeight(700)
            for hit in pattern.finditer(text):
                self.setFormat(hit.start(), hit.end() - hit.start(), made)


class ProgramText(QPlainTextEdit):
    """Shows a program; nothing can be typed into it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setReadOnly(True)
        self.setAccessibleName(self.tr("Program"))
        self.setFont(font(14))
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setFrameShape(QPlainTextEdit.Shape.NoFrame)
        self._inks = _Inks(self.document())
        self._line = 0

    def show_text(self, text: str) -> None:
        """Show another program."""
        if text != self.toPlainText():
            self.setPlainText(text)
            self._line = 0

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
