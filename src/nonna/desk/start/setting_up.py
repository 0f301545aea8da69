"""Set up a shop of one's own by answering questions."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from nonna import wiring
from nonna.bench.founding.interview import Interview
from nonna.bench.ports import ShopFiles
from nonna.desk.forms.file_dialog import ask_folder
from nonna.desk.forms.question_pages import QuestionPages, plain_field
from nonna.desk.forms.widgets import button
from nonna.desk.threads.work import behind
from nonna.errors import NonnaError
from nonna.shop.texts.given import Given


class SetUp(QuestionPages):
    """Ends with a new shop in a folder."""

    interview: Interview
    made = Signal(object)  #: ShopFiles of the new shop

    def __init__(self, target: Path, parent: QWidget | None = None) -> None:
        self._target, self._writing = target, False
        super().__init__(Interview(), parent)

    def show_end(self) -> None:
        """Show what the shop will be, what is taken as usual and what is not known yet."""
        self.end_page(self.tr("Write it and begin   Enter"))
        try:
            report = Given(self.interview.found().report)
        except NonnaError as error:
            self.end_says(self.tr("Something does not fit yet"), "", "")
            self.refuse(error.message)
            return
        station, more = report.rows("stations")[0], []
        if assumed := station.words("assumed"):
            words = ", ".join(plain_field(w) for w in assumed)
            more.append(self.tr("Taken as usual until somebody knows: {}.").format(words))
        if unknown := station.words("open"):
            words = ", ".join(plain_field(w) for w in unknown)
            more.append(self.tr("Not known yet: {}. It is asked when it is first needed.").format(words))
        for master in report.rows("masters")[:1]:  # beside one of its own the spindle's face needs no words
            if follows := master.words("follows"):
                more.append(f"{master.word('name')}: {'; '.join(follows)}.")
        self._choices.addWidget(button(self.tr("Keep it in another folder…"), self._ask_folder, focus=False))
        self.end_says(
            self.tr("{} with {}").format(report.word("shop"), station.word("name")),
            self.tr("It is kept in {}.").format(self._target),
            "\n\n".join(more),
        )

    def write(self) -> None:
        """Write the shop; asked again while it is being written, nothing more is done."""
        if self._writing:
            return
        self._writing, target, documents = True, self._target, self.interview.found().documents
        behind(self, lambda: wiring.new_shop(target, documents), self._on_written, self._on_refused)

    def _on_written(self, folder: ShopFiles) -> None:
        self._writing = False
        self.made.emit(folder)
        self.accept()

    def _on_refused(self, error: NonnaError) -> None:
        self._writing = False
        self.refuse(error.message)

    def _ask_folder(self) -> None:
        ask_folder(self, self.tr("An empty folder for the shop"), self._on_folder)

    def _on_folder(self, path: Path) -> None:
        self._target = path
        self._show()
