"""Results of a real machine taken from a file: CSV, JSON, or lines of its log by a pattern that is asked once."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.bench.control.runs import CameBack, newest_in, runs_of
from nonna.bench.job.program_texts import Results, results_in
from nonna.bench.job.programs_written import left_in
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.threads.work import behind
from nonna.desk.tray.over_tray import ROWS_SHOWN, take_the_rest
from nonna.wiring import read_bytes

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


def same_machine(window: DeskWindow) -> Callable[[], bool]:
    """Return what says whether the machine shown now is still shown when a file was read; in words where it is not."""
    folder, station = window.folder, window.station

    def still() -> bool:
        same = window.folder is folder and window.station == station
        if not same:
            window.tell("Another machine is shown by now, so nothing was taken from the file.", "due")
        return same

    return still


def read_results(window: DeskWindow, path: Path, pattern: str = "") -> None:
    """Take results of a real machine: CSV, JSON, or a log by a pattern."""
    view, still = window.tools, same_machine(window)
    folder, machine = window.folder, window.machine_name

    def read() -> Results | CameBack | None:
        data = read_bytes(path)
        came = newest_in(data.decode("utf-8", "replace"), runs_of(folder, machine))  # first: lines of our own programs
        return came or results_in(path.name, data, pattern, left_in(folder, machine))

    def take(found: Results | CameBack | None) -> None:
        if not still():
            return
        if isinstance(found, CameBack):
            view.controller.control.take(found, f"file {path.name}")
            return
        if found is None:
            _ask_pattern(window, path)
            return
        if pattern:
            window.settings.log_pattern = pattern
        if found.wrong and not found.rows:
            view.say(f"{path.name}: {' '.join(error.message for error in found.wrong[:ROWS_SHOWN])}", "bad")
            return
        source, tools = f"file {path.name}", len({touch.tool for touch in found.rows})
        take_the_rest(window, found.wrong, f"{tools} tools", lambda: view.controller.take_results(found.rows, source))

    behind(window, read, take, lambda error: view.say(f"{path.name}: {error.message}", "bad"))


def _ask_pattern(window: DeskWindow, path: Path) -> None:
    words, usual, kept = (
        "It holds no #1001 and up as our last program leaves them. How does a line of it read? {tool} and {z} are "
        "the numbers, {skip} is anything.",
        "T{tool} {skip} Z{z}",
        window.settings.log_pattern,
    )
    if window.tools.controller.by_program:
        words = (
            "How does a line of this log read? {tool}, {axis} and {value}, or {tool}, {x} and {z}; {skip} is anything."
        )
        usual = "T{tool} {skip} {axis}{value}"
    if (
        "{x}" in kept or "{axis}" in kept
    ) is not window.tools.controller.by_program:  # it was another kind of machine's
        kept = usual
    dialog = NoteDialog(words, usual, window)
    dialog.line.setText(kept)
    dialog.given.connect(lambda pattern: read_results(window, path, pattern))
    dialog.finished.connect(lambda _: window.tools.table.setFocus())
    show_over(dialog, window)
