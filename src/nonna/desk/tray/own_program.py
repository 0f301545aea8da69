"""Write the program of a station whose kind has its own: a lathe's tips on the arm."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QApplication

from nonna.bench.form_fields import Asked
from nonna.bench.job.tools_program import OwnProgram, tool_check, tools_program
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.work import Task, Work, behind
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length
from nonna.wiring import must_be_there, write_text

USUAL_MM = 0.05  #: what a broken tip is surely off by


def write_own(window: DeskWindow) -> None:
    """Write a program for the marked tools, or for the one under the cursor, once it rehearsed clean."""
    site, view = window.site, window.tools
    if site is None:
        return
    numbers = view.controller.marked or ((view.table.number,) if view.table.number is not None else ())
    tray, place = view.controller.tray, window.settings.programs

    def made(_: Task) -> OwnProgram:
        must_be_there(place)
        return tools_program(site, numbers, tray.dialect, tray.touches)

    work = Work(made, window)
    work.done.connect(lambda made: _ask(window, made, place))
    work.failed.connect(lambda error: view.say(error.message, "bad"))
    work.start()


def _ask(window: DeskWindow, made: OwnProgram, place: str) -> None:
    name = str(Path(place, "set-tips.ngc")) if place else "set-tips.ngc"
    ask_where(
        window, "Write the program", name, "Programs (*.ngc *.nc *.txt)", lambda path: save_own(window, made, path)
    )


def save_own(window: DeskWindow, made: OwnProgram, path: Path) -> None:
    """Write it to a file; says so."""
    view, minutes = window.tools, made.rehearsal.duration_s / 60.0
    words = (
        f"{path.name} written: {len(made.tools)} tools, {len(made.rehearsal.contacts)} touches, rehearsed clean, "
        f"about {minutes:.0f} min. "
        "First run: rapid down, doors shut, a finger on feed hold. Then F8 reads the results: columns tool, axis, "
        "position_mm."
    )
    behind(
        window,
        lambda: write_text(path, made.text),
        lambda _: view.say(words, "good"),
        lambda error: view.say(error.message, "bad"),
    )


def ask_check(window: DeskWindow) -> None:
    """Ask how far a tip may be from its table, and put a piece that checks it on the clipboard."""
    site, view = window.site, window.tools
    number = view.table.number
    if site is None or number is None:
        view.say("Put the cursor on a tool first.", "plain")
        return
    usual = f"{USUAL_MM * window.units.scale:.3g}"
    asked = Asked("tolerance", "It may be off by", usual, unit=f"{window.units.symbol}, real")
    hint = "A piece for a part program: it stops where the tip is broken or worn further than that."
    dialog = FormDialog(f"Check T{number} on the arm", hint, [asked], window, action="On the clipboard")

    def refuse(error: NonnaError) -> None:
        if not is_open(dialog):
            return
        dialog.refuse(NonnaError(error.code, error.message, "tolerance"))

    def take(values: dict[str, str]) -> None:
        try:
            tolerance = parse_length(values["tolerance"], window.units)
        except NonnaError as error:
            refuse(error)
            return
        work = Work(lambda _: tool_check(site, number, tolerance), window)
        work.done.connect(put)
        work.failed.connect(refuse)
        work.start()

    def put(made: OwnProgram) -> None:
        QApplication.clipboard().setText(made.text)
        if is_open(dialog):
            dialog.accept()
        count = len(made.text.splitlines())
        words = f"On the clipboard: {count} blocks that check T{number}, rehearsed inside a part program."
        view.say(f"{words} Put them before or after its operation.", "good")

    dialog.submitted.connect(take)
    show_over(dialog, window)
