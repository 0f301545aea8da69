"""Write the program of a station whose kind has its own: a lathe's tips on the arm."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QApplication

from nonna.bench.control.runs import note_measuring, run_in
from nonna.bench.form_fields import Asked
from nonna.bench.job.measuring import planned_now
from nonna.bench.job.planning import asked_of, piece_of
from nonna.bench.job.programs_written import note_written
from nonna.bench.session.front import Task
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.work import Work, behind
from nonna.desk.tray.wire import is_wired, place_of, watch
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length
from nonna.standin.rehearsal import Trial
from nonna.stations.tool_program import ToolsPlan
from nonna.wiring import must_be_there, write_text

USUAL_MM = 0.05  #: what a broken tip is surely off by


def write_own(window: DeskWindow) -> None:
    """Write a program for the marked tools, or for the one under the cursor, once it rehearsed clean."""
    site, view, results = window.site, window.tools, window.tools.controller.results
    if site is None or results is None:
        return
    numbers = view.controller.marked or ((view.table.number,) if view.table.number is not None else ())
    tray, place = view.controller.tray, window.settings.programs

    def made(_: Task) -> ToolsPlan:
        must_be_there(place)
        return planned_now(site, tray, numbers, results)

    work = Work(made, window)
    work.done.connect(lambda made: _ask(window, made, place))
    work.failed.connect(lambda error: view.say(error.message, "bad"))
    work.start()


def _ask(window: DeskWindow, made: ToolsPlan, place: str) -> None:
    run = run_in(made.trial.text)
    if run and is_wired(window):
        save_own(window, made, place_of(window, "tips", run))
        return
    name = str(Path(place, "set-tips.ngc")) if place else "set-tips.ngc"
    ask_where(
        window, "Write the program", name, "Programs (*.ngc *.nc *.txt)", lambda path: save_own(window, made, path)
    )


def save_own(window: DeskWindow, made: ToolsPlan, path: Path) -> None:
    """Write it to a file; says so."""
    view, rehearsal = window.tools, made.trial.rehearsal
    minutes = rehearsal.duration_s / 60.0
    words = (
        f"{path.name} written: {len(made.numbers)} tools, {len(rehearsal.contacts)} touches, rehearsed clean, about "
        f"{minutes:.0f} min. First run: rapid down, doors shut, a finger on feed hold. Then F8 reads the results: the "
        "machine's parameters, or columns tool, axis, position_mm."
    )
    folder = window.folder

    def write() -> None:
        write_text(path, made.trial.text)
        note_written(folder, made.asked.machine.name, made)  # F8 reads its results by that
        note_measuring(folder, made.asked.machine.name, made.trial.text, made.asked.table)

    def written(_: None) -> None:
        view.say(words, "good")
        if run_in(made.trial.text):
            watch(window, run_in(made.trial.text))

    behind(window, write, written, lambda error: view.say(error.message, "bad"))


def ask_check(window: DeskWindow) -> None:
    """Ask how far a tip may be from its table, and put a piece that checks it on the clipboard."""
    site, view = window.site, window.tools
    number, tray, results = view.table.number, view.controller.tray, view.controller.results
    if site is None or number is None or results is None:
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
        work = Work(lambda _: piece_of(asked_of(tray, {number}, site.machine, results, site.folder), tolerance), window)
        work.done.connect(put)
        work.failed.connect(refuse)
        work.start()

    def put(made: Trial) -> None:
        QApplication.clipboard().setText(made.text)
        if is_open(dialog):
            dialog.accept()
        count = len(made.text.splitlines())
        words = f"On the clipboard: {count} blocks that check T{number}, rehearsed inside a part program."
        view.say(f"{words} Put them before or after its operation.", "good")

    dialog.submitted.connect(take)
    show_over(dialog, window)
