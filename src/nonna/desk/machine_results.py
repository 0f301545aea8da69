"""Results of a real machine taken from a file: CSV, JSON, or lines of its log by a pattern that is asked once."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.desk.note import NoteDialog
from nonna.desk.overlay import show_over
from nonna.desk.work import behind
from nonna.plugged import read_bytes
from nonna.programs.results import Touched, from_csv, from_json, from_log

if TYPE_CHECKING:
    from nonna.desk.window import DeskWindow


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
    view, ending, still = window.tools, path.suffix.lower(), same_machine(window)
    if not pattern and ending not in (".json", ".csv"):
        _ask_pattern(window, path)
        return

    def read() -> tuple[Touched, ...]:
        data = read_bytes(path)
        if ending == ".json":
            return from_json(data)
        return from_log(data.decode("utf-8", "replace"), pattern) if pattern else from_csv(data)

    def take(found: tuple[Touched, ...]) -> None:
        if not still():
            return
        if pattern:
            window.settings.log_pattern = pattern
        view.controller.take_results(found, f"file {path.name}")

    behind(window, read, take, lambda error: view.say(f"{path.name}: {error.message}", "bad"))


def _ask_pattern(window: DeskWindow, path: Path) -> None:
    words, usual, kept = (
        "How does a line of this log read? {tool} and {z} are the numbers, {skip} is anything.",
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
