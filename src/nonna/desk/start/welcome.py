"""The first window of all: no shop yet, so what now?"""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QKeyEvent, QPalette
from PySide6.QtWidgets import QDialog, QVBoxLayout

from nonna import wiring
from nonna.bench.ports import ShopFiles
from nonna.desk.forms.file_dialog import ask_folder
from nonna.desk.forms.help_dialog import HelpDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.widgets import button, label
from nonna.desk.look import style
from nonna.desk.start.setting_up import SetUp
from nonna.desk.threads.work import behind

ROOM = (880, 600)  #: for a dialog over it


class Welcome(QDialog):
    """Offers to set up a shop, the demo shop, a shop folder, or one that was opened before; ``folder`` holds the choice
    once accepted.
    """

    def __init__(self, missing: Path, recent: Sequence[Path] = ()) -> None:
        super().__init__()
        self.folder: ShopFiles | None = None
        self.demo = False
        self.setWindowTitle("Nonna")
        self._said = label("", tone="bad", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(34, 28, 34, 28)
        column.setSpacing(12)
        column.addWidget(label(self.tr("There is no shop here yet"), "headline"))
        words = self.tr(
            "A shop is a folder with its machines, tools, masters and records. There is none in the folder “{}”."
        )
        column.addWidget(label(words.format(missing.name or str(missing)), "quiet", wrap=True))
        self._missing = missing
        column.addWidget(button(self.tr("Set up our shop"), self._on_set_up, main=True))
        column.addWidget(button(self.tr("Look round in the demo shop"), self._on_demo))
        column.addWidget(button(self.tr("Open a shop folder…"), self._on_choose))
        for path in recent:
            again = self.tr("Open {} again").format(path.name)
            column.addWidget(button(again, partial(self.choose, path), f"{again}: {path}"))
        column.addWidget(
            label(
                self.tr(
                    "Fewer than forty questions; five numbers are enough to begin. The demo shop is a copy: spoil it "
                    "freely."
                ),
                "small",
                wrap=True,
            )
        )
        column.addWidget(self._said)
        column.addStretch(1)
        self.resize(560, 420)
        self.setBackgroundRole(QPalette.ColorRole.Base)
        style.dress(self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """F1 is help here too."""
        if event.key() == Qt.Key.Key_F1:
            self.resize(self.size().expandedTo(QSize(*ROOM)))
            show_over(HelpDialog("first-hour", self), self)
            return
        super().keyPressEvent(event)

    def _on_demo(self) -> None:
        self.demo = True
        self.accept()

    def _on_set_up(self) -> None:
        pages = SetUp(self._missing, self)
        pages.made.connect(self._on_made)
        pages.open()

    def _on_made(self, folder: ShopFiles) -> None:
        self.folder = folder
        self.accept()

    def _on_choose(self) -> None:
        self.resize(self.size().expandedTo(QSize(*ROOM)))  # room for the dialog
        ask_folder(self, self.tr("Shop folder"), self.choose)

    def choose(self, path: Path) -> None:
        """Take a folder if it holds a shop; say what is wrong with it otherwise."""
        folder = wiring.shop_files(path)
        behind(self, folder.shop, lambda _: self._on_made(folder), lambda error: self._said.setText(error.message))
