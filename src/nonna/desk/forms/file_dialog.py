"""Asking for a file or a folder: one dialog inside the window, which says itself what is wrong.

The toolkit's own file dialog opens further message boxes that wait for the keyboard outside the window.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QGridLayout, QLineEdit, QWidget

from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.widgets import label
from nonna.desk.threads.event_turns import next_turn


class FileDialog(QFileDialog):
    """Never asks in a box of its own; a file that is there already is replaced when it is chosen a second time."""

    def __init__(self, parent: QWidget, title: str, name: str = "", kinds: str = "") -> None:
        super().__init__(parent, title, name, kinds)
        self.setOption(QFileDialog.Option.DontUseNativeDialog)
        self.setOption(QFileDialog.Option.DontConfirmOverwrite)
        self._said = label("", wrap=True)
        self._asked: list[str] = []  #: what may be replaced
        layout = self.layout()
        if isinstance(layout, QGridLayout):
            layout.addWidget(self._said, layout.rowCount(), 0, 1, layout.columnCount())

    def accept(self) -> None:
        """Take what is chosen, or say why not."""
        chosen = self.selectedFiles()
        paths = [Path(name) for name in chosen]
        if self.acceptMode() == QFileDialog.AcceptMode.AcceptSave:
            there = [path for path in paths if path.is_file()]
            if there and chosen != self._asked:
                self._asked = chosen
                self._say(self.tr("{} is there already. Enter again replaces it.").format(there[0].name), "due")
                return
        elif missing := [path for path in paths if not path.exists()]:
            self._say(self.tr("There is no {} here.").format(missing[0].name or missing[0]), "bad")
            return
        super().accept()

    def _say(self, words: str, tone: str) -> None:
        self._said.setText(words)
        self._said.show_tone(tone)


def ask_file(parent: QWidget, title: str, kinds: str, take: Callable[[Path], None]) -> FileDialog:
    """Ask for a file that exists."""
    dialog = FileDialog(parent, title, kinds=kinds)
    dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
    dialog.setOption(QFileDialog.Option.ReadOnly)  # choosing one is no occasion to rename or delete others
    return _shown(dialog, parent, take)


def ask_folder(parent: QWidget, title: str, take: Callable[[Path], None]) -> FileDialog:
    """Ask for a folder that exists."""
    dialog = FileDialog(parent, title)
    dialog.setFileMode(QFileDialog.FileMode.Directory)
    return _shown(dialog, parent, take)


def ask_where(parent: QWidget, title: str, name: str, kinds: str, take: Callable[[Path], None]) -> FileDialog:
    """Ask where a file is to be written. The ending of the name offered is added where none is typed."""
    dialog = FileDialog(parent, title, name, kinds)
    dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
    dialog.setDefaultSuffix(Path(name).suffix.removeprefix("."))
    shown = _shown(dialog, parent, take)
    next_turn(dialog, lambda: next_turn(dialog, lambda: _offer(dialog, Path(name))))  # once it stands there
    return shown


def _offer(dialog: FileDialog, name: Path) -> None:
    """Put the keyboard on the name that is offered, its own part chosen: typing replaces it, Enter takes it."""
    line = next((each for each in dialog.findChildren(QLineEdit) if each.objectName() == "fileNameEdit"), None)
    if line is not None and dialog.isVisible():
        line.setText(line.text() or name.name)
        line.setFocus()
        line.setSelection(0, len(Path(line.text()).stem))


def _shown(dialog: FileDialog, parent: QWidget, take: Callable[[Path], None]) -> FileDialog:
    dialog.fileSelected.connect(lambda chosen: take(Path(chosen)))
    show_over(dialog, parent)
    return dialog
