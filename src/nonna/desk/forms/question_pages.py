"""Pages of questions: one a page, with the machine drawn as it grows."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QPalette, QResizeEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from nonna.bench import clock
from nonna.bench.founding.questioning import Questioning
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.help_dialog import HelpDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.widgets import ANY_PX, button, card, emptied, label, scrolled
from nonna.desk.look import style
from nonna.errors import NonnaError
from nonna.procedures.wording import choice_words
from nonna.stations.questions import SetUpQuestion

YES_NO = ("yes", "no")
UNITS = ("mm",)
REVIEW_PX = 300
PAPER_PX, BOTH_PX = (420, 520), 900  #: of the question; with the drawing beside it


class QuestionPages(QDialog):
    """Asks; Enter takes an answer, Page down is "I don't know yet", Page up goes back. Nothing is written before the
    end.

    A subclass says what stands on the last page (`show_end`) and how it is written (`write`).
    """

    def __init__(self, interview: Questioning, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.interview = interview
        self._first = ""  #: what Enter picks of several
        self._doubted = ""  #: what was typed and asked about once
        self.setWindowTitle("Nonna")
        self._progress, self._words = label("", "quiet"), label("", "headline", wrap=True)
        self._where, self._why = label("", "", wrap=True), label("", "quiet", wrap=True)
        self._said = label("", "", tone="bad", wrap=True)
        self.entry, self._unit = QLineEdit(), label("", "title")
        self.entry.setToolTip(self.tr("It may carry its unit: 23.6 in, 600 mm."))
        self.entry.setAlignment(Qt.AlignmentFlag.AlignLeft)
        self.entry.setFont(style.font(24, bold=True))
        self._usual = label("", "quiet", wrap=True)
        self._choices = QVBoxLayout()
        self._choices.setSpacing(8)
        self._figure = FigureView()
        self._take = button("", self.take, main=True)
        self._skip = button(self.tr("I don't know yet   Page down"), self.skip, focus=False)
        self._back = button(self.tr("Back   Page up"), self.back, focus=False)
        self._arrange()
        self.resize(1180, 720)
        self.setBackgroundRole(QPalette.ColorRole.Window)
        style.dress(self)
        self._show()

    def _arrange(self) -> None:
        paper, column = card(margins=(28, 22, 28, 22), spacing=10)
        paper.setMinimumWidth(PAPER_PX[0])
        paper.setMaximumWidth(PAPER_PX[1])
        column.addWidget(self._progress)
        column.addWidget(self._words)
        column.addWidget(self._where)
        column.addWidget(self._why)
        column.addSpacing(8)
        line = QHBoxLayout()
        line.addWidget(self.entry, 1)
        line.addWidget(self._unit)
        column.addLayout(line)
        column.addLayout(self._choices)
        column.addWidget(self._usual)
        column.addWidget(self._said)
        column.addStretch(1)
        column.addWidget(self._take)
        row = QHBoxLayout()
        row.addWidget(self._back)
        row.addWidget(self._skip, 1)
        column.addLayout(row)
        self._drawing, beside = card(margins=(18, 14, 18, 14))
        beside.addWidget(self._figure)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(20, 20, 20, 20)
        whole.setSpacing(14)
        whole.addWidget(paper, 1)
        whole.addWidget(self._drawing, 1)
        self._paper = paper

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The drawing gives way to the question where both have no room."""
        super().resizeEvent(event)
        both = self.width() >= BOTH_PX
        self._drawing.setVisible(both)
        self._paper.setMaximumWidth(PAPER_PX[1] if both else ANY_PX)

    def take(self, text: str | None = None) -> None:
        """Take what is typed, or what a choice says; at the end, write it."""
        if self.interview.question is None:
            self.write()
            return
        typed = self.entry.text() if text is None else text
        if text is None and not typed.strip() and not self.interview.question.needed:
            self._said.setText(self.tr("Type it; or Page down, if nobody knows it yet."))
            return  # Enter alone answers nothing
        try:
            doubt = self.interview.doubt(typed, clock.now().date())
            if doubt and typed != self._doubted:
                self._doubted = typed
                self._said.setText(self.tr("{} Enter once more takes it as it is.").format(doubt))
                self.entry.selectAll()
                return
            self.interview = self.interview.answered(typed)
        except NonnaError as error:
            self._said.setText(error.message)
            self.entry.selectAll()
            self._draw(self.interview.tried(self.entry.text()))
            return
        self._show()

    def skip(self) -> None:
        """Say that nobody knows yet."""
        if self.interview.question is not None:
            self.take("")

    def back(self) -> None:
        """Go back one question; its answer stands there."""
        self.interview = self.interview.back()
        self._show()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The keys of the page; Esc leaves only at the first question, where nothing is lost."""
        key = event.key()
        if key == Qt.Key.Key_F1:
            show_over(HelpDialog("set-up", self, field=self._where.text()), self)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.take(self._first if self._offered() else None)
        elif key == Qt.Key.Key_PageDown:
            self.skip()
        elif key == Qt.Key.Key_PageUp or (key == Qt.Key.Key_Escape and self.interview.at > 0):
            self.back()
        elif self._picked(event.text()):
            return
        else:
            super().keyPressEvent(event)

    def _picked(self, text: str) -> bool:
        choices = self._offered()
        if not (text.isdigit() and 1 <= int(text) <= len(choices)):
            return False
        self.take(choices[int(text) - 1])
        return True

    def _offered(self) -> tuple[str, ...]:
        question = self.interview.question
        return () if question is None else YES_NO if question.sort == "yes" else question.choices

    def _show(self) -> None:
        question = self.interview.question
        self._doubted = ""
        self._said.setText("")
        self._back.setEnabled(self.interview.at > 0)
        emptied(self._choices)
        if question is None:
            self.show_end()
            return
        self._progress.setText(
            self.tr("Question {} of about {}").format(self.interview.at + 1, len(self.interview.questions))
        )
        self._words.setText(question.words)
        self._where.setText(question.where)
        self._why.setText(self.tr("What for: {}").format(question.why))
        self._ask(question)
        self._skip.setVisible(not question.needed)
        self._draw(self.interview.answers)
        style.dress(self)

    def _draw(self, answers: Mapping[str, object]) -> None:
        question, kind = self.interview.question, self.interview.kind
        asked = question.key if question is not None else ""
        whole = {**self.interview.drawn_from, **answers}
        self._figure.show_figure(kind.drawn(whole, asked, self.interview.units) if kind.drawn else None)

    def _ask(self, question: SetUpQuestion) -> None:
        choices, before = self._offered(), self.interview.typed
        usual = self.interview.usual(question)
        self.entry.setVisible(not choices)
        self.entry.setText(before)
        self.entry.selectAll()
        self.entry.setAccessibleName(question.words)
        self._unit.setText(self.interview.unit(question))
        self._take.setVisible(not choices)
        self._take.setText(self.tr("Take it   Enter"))
        if choices:
            self._first = before or usual or choices[0]
            for i, word in enumerate(choices):
                words = f"{i + 1}   {_capital(choice_words(word))}" + (
                    self.tr("   Enter") if word == self._first else ""
                )
                pick = button(
                    words, partial(self.take, word), choice_words(word), main=word == self._first, focus=False
                )
                self._choices.addWidget(pick)
            self._usual.setText("" if question.needed or not usual else self._taken(usual))
            self.setFocus()
        else:
            self._usual.setText(self._taken(usual) if usual else "")
            self.entry.setFocus()

    def _taken(self, usual: str) -> str:
        return self.tr("Nobody knows? Then {} is taken until somebody knows.").format(choice_words(usual))

    def show_end(self) -> None:
        """Show the last page: what will be written, and what stays open."""
        raise NotImplementedError

    def write(self) -> None:
        """Write what was answered, or say why not."""
        raise NotImplementedError

    def end_page(self, words: str) -> None:
        """Make room for the last page."""
        self._progress.setText(self.tr("That was all"))
        self.entry.hide()
        self._unit.setText("")
        self._skip.hide()
        self._take.show()
        self._take.setText(words)
        self._usual.setText("")

    def end_says(self, title: str, below: str, more: str) -> None:
        """Say on the last page what comes of it."""
        self._words.setText(title)
        self._where.setText(below)
        self._why.setText(more)
        area = scrolled(self._review())
        area.setMinimumHeight(REVIEW_PX)
        self._choices.insertWidget(0, area, 1)
        self._draw(self.interview.answers)
        style.dress(self)
        self.setFocus()

    def _review(self) -> QWidget:
        """Return every answer once more, to be read before it is written; Page up goes back to them."""
        paper = QWidget()
        grid = QGridLayout(paper)
        grid.setContentsMargins(0, 0, 8, 0)
        grid.setVerticalSpacing(3)
        for row, question in enumerate(self.interview.questions):
            said = self.interview.said.get(question.key, "")
            usual = self.interview.usual(question)
            unit = self.interview.unit(question) if said and not said[-1:].isalpha() else ""
            plain = choice_words(said) if question.sort in ("choice", "yes") else said
            words = f"{plain} {unit}".strip() if said else usual and self.tr("{}, as usual").format(usual)
            grid.addWidget(label(question.words, "quiet", wrap=True), row, 0)
            grid.addWidget(label(words or self.tr("not known yet"), "strong" if said else "quiet", wrap=True), row, 1)
        grid.setColumnStretch(0, 3)
        grid.setColumnStretch(1, 2)
        return paper

    def refuse(self, words: str) -> None:
        """Say what is wrong; what was typed stays."""
        self._said.setText(words)


def _capital(words: str) -> str:
    return words if words in UNITS else words[:1].upper() + words[1:]  # "Mm" is a megametre


def plain_field(name: str) -> str:
    """A field's name as a word: without its unit."""
    for unit in ("_mm_min", "_mm_s2", "_mm", "_s"):
        name = name.removesuffix(unit)
    return name.replace("_", " ")
