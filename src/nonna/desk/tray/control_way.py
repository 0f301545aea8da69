"""To the control's own table: the load program, and what comes back of it."""

from __future__ import annotations

from pathlib import Path
from secrets import token_hex
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from nonna.bench.control.from_book import holding_tools, to_store
from nonna.bench.control.loading import load_program
from nonna.bench.control.runs import note_loading, runs_of
from nonna.bench.control.storing_shown import planned, put_back_of
from nonna.desk.forms.overlay import is_open
from nonna.desk.forms.rows_grid import rows_grid
from nonna.desk.forms.widgets import ClearArea, button, label
from nonna.desk.threads.work import behind
from nonna.desk.tray.machine_results import same_machine
from nonna.desk.tray.over_tray import save_file, show_dialog
from nonna.desk.tray.wire import is_wired, place_of, watch
from nonna.wiring import write_text

if TYPE_CHECKING:
    from nonna.bench.control.storing_shown import Planned
    from nonna.desk.frame.window import DeskWindow

HEADS = ("Tool", "", "Goes into the table", "Proved there last", "Record")
ROW_PX, MOST_PX = 24, 430
MOST_LEFT_OUT = 3  #: lines of what is left out


class StoreDialog(QDialog):
    """Shows each number that a load program stores; Enter writes the program."""

    asked = Signal()

    def __init__(self, made: Planned, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(made.title, "title"))
        column.addWidget(label(made.about, "quiet", wrap=True))
        inside = QWidget()
        inside.setLayout(
            rows_grid(HEADS, (((r.tool, "strong"), (r.what, ""), (r.new, "strong"), (r.old, ""), (r.record, "quiet"))
                for r in made.rows))
        )  # fmt: skip
        area = ClearArea()
        area.setWidget(inside)
        area.setMinimumHeight(min(MOST_PX, ROW_PX * (len(made.rows) + 2)))
        column.addWidget(area, 1)
        for line in made.by_hand[:MOST_LEFT_OUT]:
            column.addWidget(label(self.tr("Left out: {line}.").format(line=line), "quiet", wrap=True))
        keys = QHBoxLayout()
        keys.addStretch()
        keys.addWidget(button(self.tr("Write the program   Enter"), self.asked.emit, main=True))
        column.addLayout(keys)
        self.resize(820, 200)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter writes, Esc leaves."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():  # a key held down writes nothing
                self.asked.emit()
        else:
            super().keyPressEvent(event)


def store(window: DeskWindow, *, put_back: bool = False) -> None:
    """Show what goes into the control's own table: the marked tools, or all that were measured."""
    site, state, view = window.site, window.state, window.tools
    if site is None or state is None:
        view.say("One moment, the rest is still loading…", "plain")
        return
    c, still, own = view.controller, same_machine(window), site.folder.templates
    tools = [tool for tool in c.tray.tools if tool.number in c.tray.marked] or list(c.tray.tools)

    def work_out() -> Planned:
        run = token_hex(4).upper()
        if put_back:
            plan = put_back_of(site.machine, runs_of(site.folder, site.machine.name), run)
        else:
            plan = to_store(site.machine, tools, state.results, holding_tools(state.links)).plan(site.machine, run)
        return planned(plan, load_program(plan, own()), state.standing, tools)

    def show(made: Planned) -> None:
        if not still():
            return
        dialog = StoreDialog(made, window)
        dialog.asked.connect(lambda: _ask_file(window, dialog, made))
        show_dialog(window, dialog)

    behind(window, work_out, show, lambda error: view.say(error.message, "bad"))


def _ask_file(window: DeskWindow, dialog: StoreDialog, made: Planned) -> None:
    place, name = window.settings.programs, "put-back.ngc" if made.plan.put_back else "load.ngc"

    def save(path: Path) -> None:
        save_load(window, made, path)
        if is_open(dialog):
            dialog.accept()

    if is_wired(window):
        save(place_of(window, "put-back" if made.plan.put_back else "load", made.plan.run))
        return
    save_file(
        window, "Write the program", str(Path(place, name)) if place else name, "Programs (*.ngc *.nc *.txt)", save
    )


def save_load(window: DeskWindow, made: Planned, path: Path) -> None:
    """Write a load program to a file; says so."""
    view, folder, tools = window.tools, window.folder, window.tools.controller.tray.tools

    def write() -> None:
        write_text(path, made.text)
        note_loading(folder, made.plan, made.text, tools)

    count = f"{len(made.rows)} number{'' if len(made.rows) == 1 else 's'}"
    then = "then F8 reads what the control says" if made.is_proved else "then look at its table: nothing proves it"
    words = f"{path.name} written: {count} for the control's table. Run it, {then}."

    def written(_: None) -> None:
        view.say(words, "due")
        if made.is_proved:
            watch(window, made.plan.run)

    behind(window, write, written, lambda error: view.say(error.message, "bad"))


def put_back(window: DeskWindow) -> None:
    """Show what the last load program kept, to be put back."""
    store(window, put_back=True)
