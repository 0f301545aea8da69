"""Set up a shop of one's own: one question a page, with the machine drawn as it grows."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QPalette
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from nonna import plugged
from nonna.bench.interview import Interview
from nonna.bench.ports import ShopFiles
from nonna.desk.figure_view import FigureView
from nonna.desk.file_dialog import ask_folder
from nonna.desk.help_dialog import HelpDialog
from nonna.desk.look import style
from nonna.desk.overlay import show_over
from nonna.desk.widgets import button, card, emptied, label
from nonna.errors import NonnaError
from nonna.procedures.wording import choice_words
from nonna.stations.questions import SetUpQuestion

YES_NO = ("yes", "no")


class SetUp(QDialog):
    """Asks; Enter takes an answer, Page down is "I don't know yet", Page up goes back. Nothing is written before the end."""

    made = Signal(object)  #: ShopFiles of the new shop

    def __init__(self, target: Path, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.interview = Interview()
        self._target = target
        self._first = ""  #: what Enter picks of several
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
        paper.setFixedWidth(520)
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
        drawing, beside = card(margins=(18, 14, 18, 14))
        beside.addWidget(self._figure)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(20, 20, 20, 20)
        whole.setSpacing(14)
        whole.addWidget(paper)
        whole.addWidget(drawing, 1)

    def take(self, text: str | None = None) -> None:
        """Take what is typed, or what a choice says; at the end, write the shop."""
        if self.interview.question is None:
            self._write()
            return
        try:
            self.interview = self.interview.answered(self.entry.text() if text is None else text)
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
        self._said.setText("")
        self._back.setEnabled(self.interview.at > 0)
        emptied(self._choices)
        if question is None:
            self._show_end()
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
        self._figure.show_figure(kind.drawn(answers, asked, self.interview.units) if kind.drawn else None)

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
        return self.tr("Nobody knows? Then {} is taken until it is typed on the shelf.").format(choice_words(usual))

    def _show_end(self) -> None:
        self._progress.setText(self.tr("That was all"))
        self.entry.hide()
        self._unit.setText("")
        self._skip.hide()
        self._take.show()
        self._take.setText(self.tr("Write it and begin   Enter"))
        try:
            report = self.interview.found().report
        except NonnaError as error:
            self._words.setText(self.tr("Something does not fit yet"))
            self._said.setText(error.message)
            return
        station = report["stations"][0]
        self._words.setText(self.tr("{} with {}").format(report["shop"], station["name"]))
        self._where.setText(self.tr("It is kept in {}.").format(self._target))
        more = (
            [
                self.tr("Taken as usual until typed on the shelf: {}.").format(
                    ", ".join(_plain(w) for w in station["assumed"])
                )
            ]
            if station["assumed"]
            else []
        )
        if station["open"]:
            more.append(
                self.tr("Not known yet: {}. The sheets ask for it when they need it.").format(
                    ", ".join(_plain(w) for w in station["open"])
                )
            )
        masters = (
            report["masters"][:1] if len(report["masters"]) > 1 else report["masters"]
        )  # beside one of its own the spindle's face needs no words
        more += [f"{master['name']}: {'; '.join(master['follows'])}." for master in masters if master["follows"]]
        self._why.setText("\n\n".join(more))
        self._usual.setText("")
        self._draw(self.interview.answers)
        self._choices.addWidget(button(self.tr("Keep it in another folder…"), self._ask_folder, focus=False))
        style.dress(self)
        self.setFocus()

    def _ask_folder(self) -> None:
        ask_folder(self, self.tr("An empty folder for the shop"), self._on_folder)

    def _on_folder(self, path: Path) -> None:
        self._target = path
        self._show()

    def _write(self) -> None:
        try:
            folder: ShopFiles = plugged.new_shop(self._target, self.interview.found().documents)
        except NonnaError as error:
            self._said.setText(error.message)
            return
        self.made.emit(folder)
        self.accept()


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _plain(name: str) -> str:
    """A field's name as a word: without its unit."""
    for unit in ("_mm_min", "_mm_s2", "_mm", "_s"):
        name = name.removesuffix(unit)
    return name.replace("_", " ")
