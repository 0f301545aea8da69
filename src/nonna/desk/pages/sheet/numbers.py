"""The numbers: the reading being taken, the results with their doubt, the verdict and what to do."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.session.sheet.picture import NumberLine, SheetPicture
from nonna.desk.forms.widgets import SEEN_WITH, Card, Words, button, card, label, scrolled
from nonna.desk.look.style import show_look, worn
from nonna.desk.pages.sheet.limit_bar import LimitBar
from nonna.wording.lengths import Units

USUAL_ROWS = 6  #: rows of results made beforehand, so that nothing stalls when the first result comes


class NumbersPanel(Card):
    """Reading, results, verdict. Enter does the next thing; an empty Backspace strikes the last reading."""

    entered = Signal(str)
    taken_as_typed = Signal()
    strike_asked = Signal()
    tape_asked = Signal()  #: the keyboard goes to the tape
    undo_asked = Signal()
    redo_asked = Signal()
    reason_given = Signal(str)
    reason_left = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.prompt, self._expected = label("", "title", wrap=True), label("", "quiet")
        self.reading = QLineEdit()
        self._look = "reading"  #: of the field while nothing is said
        show_look(self.reading, self._look)
        self.reading.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.reading.setAccessibleName(self.tr("Reading"))
        self.reading.setToolTip(self.tr("As the display shows it; it may carry its unit: 0.2in, 3 thou, 5um."))
        self.reading.installEventFilter(self)
        setattr(self.reading, SEEN_WITH, self.prompt)
        self._said = label("", "", wrap=True)
        self._reason = worn(QLineEdit())
        self._reason.setAccessibleName(self.tr("Why this reading is struck out"))
        self._reason.setToolTip(
            self.tr("It stays on the tape, crossed out, with this reason: a chip, a knock, a slip.")
        )
        self._reason.returnPressed.connect(lambda: self.reason_given.emit(self._reason.text()))
        self._reason.installEventFilter(self)
        self._reason_label = label(
            self.tr("Why strike it out? Enter keeps the reason, Esc leaves the reading."), "quiet", wrap=True
        )
        self._progress = worn(QProgressBar())
        self._progress.setTextVisible(False)
        self._progress.setAccessibleName(self.tr("Stand-in run"))
        self._main_title, self.main, self._main_doubt = label("", "quiet"), label("", "value"), label("", "doubt")
        self._lines = QGridLayout()
        self._lines.setVerticalSpacing(1)
        self._lines.setHorizontalSpacing(10)
        self._lines.setColumnStretch(0, 1)
        self._rows: list[tuple[Words, Words, Words]] = []
        self.bar = LimitBar()
        self._verdict, inside = card(tone="plain", margins=(14, 10, 14, 10), spacing=3)
        self._headline, self._todo = label("", "finding", wrap=True), label("", "strong", wrap=True)
        self._advice = label("", "quiet", wrap=True)
        self.sign = button(self.tr("Sign   Enter"), lambda: self.entered.emit(""), self.tr("Sign"), main=True)
        for widget in (self._headline, self._todo, self._advice):
            inside.addWidget(widget)
        self._arrange()
        self.hide_reason()
        self.show_progress(None)

    def _arrange(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(4)
        column.addWidget(self.prompt)
        entry = QHBoxLayout()
        entry.addWidget(self.reading, 2)
        entry.addWidget(self.sign, 3)
        column.addLayout(entry)
        for widget in (self._reason_label, self._reason, self._progress, self._said):
            column.addWidget(widget)
        under = QHBoxLayout()  # not beside the prompt, that is long
        under.addWidget(self._main_title)
        under.addStretch()
        under.addWidget(self._expected)
        column.addLayout(under)
        row = QHBoxLayout()
        row.addWidget(self.main)
        row.addStretch()
        row.addWidget(self._main_doubt, 0, Qt.AlignmentFlag.AlignBottom)
        column.addLayout(row)
        column.addLayout(self._lines)
        column.addWidget(self.bar)
        inside = QWidget()
        stack = QVBoxLayout(inside)
        stack.setContentsMargins(0, 0, 0, 0)
        stack.addStretch(1)
        stack.addWidget(self._verdict)
        self.below = scrolled(inside)  # long words scroll here instead of pushing the window taller
        column.addWidget(self.below, 1)

    def show_picture(self, shown: SheetPicture, units: Units, running: bool) -> None:
        """Paint the numbers of a sheet."""
        self.prompt.setText(self.tr("The stand-in is at work") if running else shown.prompt)
        self._expected.setText("" if running else shown.expected)
        ready = shown.can_sign and not running and not shown.wanted  # then the button beside says what Enter does
        self.reading.setPlaceholderText(units.symbol if shown.wanted else "" if ready else shown.enter_does)
        self.reading.setReadOnly(running)
        self._main_title.setText("" if running else shown.main.title)
        self.main.setText(shown.main.value)
        self._main_doubt.setText(shown.main.doubt)
        self._show_lines(shown.lines)
        self.bar.show_check(shown.check, shown.rule, units)
        self._verdict.show_tone(shown.tone)
        self._headline.show_tone({"bad": "bad", "due": "due"}.get(shown.tone, ""))
        self._headline.setText(shown.headline)
        self._todo.setText(shown.todo)
        self._advice.setText("\n".join(shown.advice))
        self._advice.setVisible(bool(shown.advice))
        self.sign.setVisible(ready)
        last = self.tr("Rehearsed, not signed") if shown.rehearsed else self.tr("Sign   Enter")
        self.sign.setText(self.tr("Turned   Enter") if shown.again else last)
        self.sign.setToolTip(self.tr("Ctrl+Enter signs it as it is") if shown.again else "")
        self._look = "reading-due" if shown.tone == "due" and not shown.can_sign else "reading"
        self.say("", "plain")

    def _show_lines(self, lines: Sequence[NumberLine]) -> None:
        """Write the results into rows of labels that stay: making and dressing labels anew takes too long."""
        while len(self._rows) < max(len(lines), USUAL_ROWS):
            row = (label("", "quiet"), label("", "strong"), label("", "quiet"))
            for column, part in enumerate(row):
                side = Qt.AlignmentFlag.AlignRight if column else Qt.AlignmentFlag.AlignLeft
                self._lines.addWidget(part, len(self._rows), column, side)
            self._rows.append(row)
        for i, row in enumerate(self._rows):
            texts = (lines[i].title, lines[i].value, lines[i].doubt) if i < len(lines) else ("", "", "")
            for part, words in zip(row, texts, strict=True):
                if part.text() != words:
                    part.setText(words)
                if part.isHidden() is (i < len(lines)):
                    part.setVisible(i < len(lines))

    def say(self, words: str, tone: str) -> None:
        """Say what is wrong with the entry; nothing typed is lost."""
        self._said.setText(words)
        self._said.setVisible(bool(words))
        self._said.show_tone(tone)
        show_look(self.reading, f"reading-{tone}" if tone in ("bad", "due") and words else self._look)

    def clear(self) -> None:
        """Forget what was typed and asked."""
        self.reading.clear()
        self._reason.clear()
        self.hide_reason()
        self.show_progress(None)
        self.say("", "plain")

    def show_progress(self, step: tuple[int, int, float] | None) -> None:
        """Show how far the stand-in is; None hides it."""
        self._progress.setVisible(step is not None)
        if step is not None:
            line, of, seconds = step
            self._progress.setMaximum(of)
            self._progress.setValue(line)
            self._expected.setText(f"block {line} of {of}, {seconds:.0f} s of machine time, Esc stops")

    def ask_reason(self) -> None:
        """Ask why a reading is struck out."""
        self._reason.setText(self.tr("mistyped"))
        self._reason.selectAll()
        for widget in (self._reason, self._reason_label):
            widget.show()
        self._reason.setFocus()

    @property
    def asking(self) -> bool:
        """Whether a reason is being asked for."""
        return self._reason.isVisible()

    def hide_reason(self) -> None:
        """Back to the readings."""
        for widget in (self._reason, self._reason_label):
            widget.hide()
        self.reading.setFocus()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Enter, Ctrl+Enter, Backspace on an empty line; Esc in the reason."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            if watched is self.reading and event.key() == Qt.Key.Key_Question:
                event.ignore()  # no reading begins so: it is the key that shows the keys
                return True
            return super().eventFilter(watched, event)
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            key = Qt.Key(event.key())
            enter = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            if (
                event.isAutoRepeat()
                and (enter or key == Qt.Key.Key_Backspace)
                and not (key == Qt.Key.Key_Backspace and self.reading.text())
            ):
                return True  # a key held down takes one reading and signs nothing
            if watched is self.reading and key == Qt.Key.Key_Up:
                self.tape_asked.emit()
                return True
            if watched is self.reading and enter:
                if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                    self.taken_as_typed.emit()
                else:
                    self.entered.emit(self.reading.text())
                return True
            if watched is self.reading and key == Qt.Key.Key_Backspace and not self.reading.text():
                self.strike_asked.emit()
                return True
            control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            wish = {Qt.Key.Key_Z: self.undo_asked, Qt.Key.Key_Y: self.redo_asked}.get(Qt.Key(key)) if control else None
            if watched is self.reading and wish is not None and not self.reading.text():
                wish.emit()
                return True
            if watched is self._reason and key == Qt.Key.Key_Escape:
                self.reason_left.emit()
                return True
        return super().eventFilter(watched, event)
