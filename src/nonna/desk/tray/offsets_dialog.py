"""A lathe's measured offsets beside what its table holds; Enter writes them, Ctrl+Z in the tray takes them back."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from nonna.bench.tray.offset_table import OffsetChange, offset_changes, with_offsets
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.forms.rows_grid import Cell, rows_grid
from nonna.desk.forms.widgets import ClearArea, button, label
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.work import Work
from nonna.procedures.shown import as_shown
from nonna.wording.lengths import Units, length, small

HEADS = ("Tool", "", "In the table", "Measured", "Differs by", "Wear beside it")
ROW_PX, MOST_PX = 24, 430


class OffsetsDialog(QDialog):
    """Shows each offset that differs."""

    asked = Signal()

    def __init__(self, changes: tuple[OffsetChange, ...], shows: str, units: Units, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._any = any(change.writes for change in changes)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(self.tr("Measured offsets, old and new"), "title"))
        words = self.tr(
            "What differs by more than its doubt. A new edge begins without wear; where wear stands beside the same "
            "edge, "
            "table and wear stay together as they are."
            if changes
            else "The table holds, within the doubt, what was measured last of every tip that holds. Nothing to write."
        )
        column.addWidget(label(words, "quiet", wrap=True))
        if changes:
            inside = QWidget()
            inside.setLayout(rows_grid(HEADS, (_cells(change, shows, units) for change in changes)))
            area = ClearArea()
            area.setWidget(inside)
            area.setMinimumHeight(min(MOST_PX, ROW_PX * (len(changes) + 2)))
            column.addWidget(area, 1)
            keys = QHBoxLayout()
            keys.addWidget(label(self.tr("Ctrl+Z in the tray puts the old ones back."), "quiet"))
            keys.addStretch()
            if self._any:
                keys.addWidget(button(self.tr("Write them   Enter"), self.asked.emit, main=True))
            column.addLayout(keys)
        self.resize(860, 200)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter writes, Esc leaves."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.isAutoRepeat():
                return  # a key held down writes nothing
            self.asked.emit() if self._any else self.reject()
        else:
            super().keyPressEvent(event)


def _cells(change: OffsetChange, shows: str, units: Units) -> tuple[Cell, ...]:
    doubt = f" ± {small(change.expanded, units)}" if change.expanded else ""
    return (
        (f"T{change.tool} {change.name}", "strong"), (as_shown(change.axis, shows), ""),
        ("nothing" if change.before is None else length(change.before, units), ""),
        (length(change.after, units) + doubt, "strong"),
        ("" if change.difference is None else small(change.difference, units, sign=True), ""),
        (_wear_words(change, units), "quiet"),
    )  # fmt: skip


def _wear_words(change: OffsetChange, units: Units) -> str:
    if not change.wear:
        return "none"
    return small(change.wear, units, sign=True) + (", becomes 0" if change.writes else " on the same edge: both stay")


def show_offsets(window: DeskWindow) -> None:
    """Show what was measured of the tips beside the table of this lathe."""
    site, state, tray = window.site, window.state, window.tools.controller.tray
    if site is None or state is None:
        return
    each = next((s for s in state.links if s.link.sort.value == "each"), None)
    holding = {subject for subject, found in each.subjects if found.value == "holds"} if each is not None else set()
    work = Work(lambda _: offset_changes(state.results, state.kind, tray.tools, holding), window)

    def show(changes: tuple[OffsetChange, ...]) -> None:
        dialog = OffsetsDialog(changes, site.machine.x_shows, window.units, window)

        def write() -> None:
            c = window.tools.controller
            if c.tray.tools != tray.tools:  # another window, or this one, changed them meanwhile
                window.tools.say("The tools were changed meanwhile: look at old and new again.", "due")
            else:
                c.change(with_offsets(c.tray, changes))
                count = len({change.tool for change in changes if change.writes})
                words = f"Offsets of {count} tool{'' if count == 1 else 's'} written. Type them into the machine too."
                window.tools.say(words, "good")
            if is_open(dialog):
                dialog.accept()

        dialog.asked.connect(write)
        dialog.finished.connect(lambda _: window.tools.table.setFocus())
        show_over(dialog, window)

    work.done.connect(show)
    work.failed.connect(lambda error: window.tools.say(error.message, "bad"))
    work.start()
