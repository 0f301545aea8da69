"""The wear column with a diff: what it holds, what the parts say, written with Enter and taken back with Backspace."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from nonna.bench.session.front import Task
from nonna.bench.station.site import Site
from nonna.bench.station.state import ShopState
from nonna.bench.tables.wear_column import Run, WearChange, run_of, wear_changes, write_wear
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.forms.rows_grid import Cell, rows_grid
from nonna.desk.forms.widgets import button, label
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.work import Work
from nonna.figures.run_chart import run_chart
from nonna.procedures.shown import as_shown
from nonna.wording.lengths import Units, small

HEADS = ("Tool", "Part was off by", "Wear in the table", "Should be", "")


class WearDialog(QDialog):
    """Shows each tool whose part was measured; Enter writes what waits, Backspace takes back what was written.

    The wear of a part that failed is never one Enter away: Ctrl+Enter writes it, once somebody looked.
    """

    asked = Signal(object, bool)  #: changes, whether they are taken back

    def __init__(
        self, changes: tuple[WearChange, ...], runs: tuple[Run, ...], axis: str, units: Units, parent: QWidget
    ) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._waiting = tuple(c for c in changes if c.waits and not c.failed)
        self._failed = tuple(c for c in changes if c.waits and c.failed)
        self._written = tuple(c for c in changes if c.written)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(self.tr("Wear for the next parts, {}").format(axis), "title"))
        if not changes:
            words = self.tr(
                "No part that names its tool was measured yet: on the part's sheet F9 asks which tool cut it."
            )
            column.addWidget(label(words, "", wrap=True))
        else:
            column.addLayout(rows_grid(HEADS, (_cells(change, units) for change in changes)))
        for change, run in zip(changes, runs, strict=True):
            view = FigureView()
            view.setFixedHeight(230)
            if len(changes) > 1:
                column.addSpacing(10)
                column.addWidget(label(self.tr("What T{} cut").format(change.tool), "strong"))
            column.addWidget(view)
            view.show_figure(run_chart(run.points, run.limits, run.following, units))
        self.said = label("", "", wrap=True)
        self.said.setMinimumWidth(420)
        column.addWidget(self.said)
        keys = QHBoxLayout()
        keys.addStretch()
        if self._written:
            keys.addWidget(button(self.tr("Take it back   Backspace"), self._back, focus=False))
        if self._waiting:
            keys.addWidget(button(self.tr("Write it   Enter"), self._write, main=True))
        if self._failed:
            keys.addWidget(button(self.tr("Write the failed part's too   Ctrl+Enter"), self._write_all, focus=False))
        column.addLayout(keys)
        self.resize(820, 240)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter writes, Backspace takes back, Esc leaves."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self._write_all()
            else:
                self._write()
        elif event.key() == Qt.Key.Key_Backspace:
            self._back()
        else:
            super().keyPressEvent(event)

    def refuse(self, words: str) -> None:
        """Say why nothing was written."""
        self.said.setText(words)
        self.said.show_tone("bad")

    def _write(self) -> None:
        if self._waiting:
            self.asked.emit(self._waiting, False)
        elif self._failed:
            self.refuse(self.tr("Its part failed: look at part and insert first. Ctrl+Enter writes it all the same."))

    def _write_all(self) -> None:
        if self._waiting or self._failed:
            self.asked.emit((*self._waiting, *self._failed), False)

    def _back(self) -> None:
        if self._written:
            self.asked.emit(self._written, True)


def _cells(change: WearChange, units: Units) -> tuple[Cell, ...]:
    said = (
        f"its part failed, record {change.record}: look first" if change.waits and change.failed
        else f"waits, record {change.record}" if change.waits
        else f"written, record {change.record}" if change.written
        else "stays as it is" if abs(change.after - change.before) < 1e-9
        else f"the table was changed since record {change.record}: not written"
    )  # fmt: skip
    return (
        (f"T{change.tool} {change.name}", "strong"), (small(change.error, units, sign=True), ""),
        (small(change.now, units, sign=True), ""), (small(change.after, units, sign=True), "strong"), (said, "quiet"),
    )  # fmt: skip


def show_wear(window: DeskWindow) -> None:
    """Show what the parts measured on this lathe say of the wear column."""
    site, state = window.site, window.state
    if site is None or state is None:
        return
    parts = state.kind.parts
    if parts is None:
        window.tell(f"The table of a {state.kind.words} keeps no wear that its parts could tell of.", "due")
        return

    def look(_: Task) -> tuple[tuple[WearChange, ...], tuple[Run, ...]]:
        results = state.results
        changes = wear_changes(results, parts, site.tools)
        by_number = {tool.number: tool for tool in site.tools}
        return changes, tuple(run_of(results, parts, by_number[c.tool], site.machine.x_shows) for c in changes)

    work = Work(look, window)
    work.done.connect(lambda found: _show(window, site, state, *found))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def _show(
    window: DeskWindow, site: Site, state: ShopState, changes: tuple[WearChange, ...], runs: tuple[Run, ...]
) -> None:
    dialog = WearDialog(changes, runs, as_shown("x", site.machine.x_shows), window.units, window)
    dialog.asked.connect(lambda chosen, back: _write(window, state.key, dialog, chosen, back))
    show_over(dialog, window)


def _write(window: DeskWindow, station: str, dialog: WearDialog, chosen: tuple[WearChange, ...], back: bool) -> None:
    folder = window.folder
    work = Work(lambda _: write_wear(folder, station, chosen, back=back), window)

    def done(_: object) -> None:
        if is_open(dialog):
            dialog.accept()
        window.look_again()
        tools = ", ".join(f"T{c.tool} {small(c.before if back else c.after, window.units, sign=True)}" for c in chosen)
        window.tell(f"Wear {'put back' if back else 'written'}: {tools}. Type it into the machine too.", "good")

    work.done.connect(done)
    work.failed.connect(
        lambda error: dialog.refuse(error.message) if is_open(dialog) else window.tell(error.message, "bad")
    )
    work.start()
