"""Keep a shop safe: copy it while it is open, look into a copy, make a shop of it again."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from nonna import wiring
from nonna.bench.ports import Copied
from nonna.bench.session.front import Task
from nonna.desk.forms.file_dialog import ask_folder, ask_where
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.work import Work

COPYING = "copying"  #: name of the work that makes a copy


def ask_copy(window: DeskWindow) -> None:
    """Ask where copies of the shop go; while one is being made, stop it."""
    running = window.findChild(Work, COPYING)
    if running is not None and running.busy:
        running.cancel()
        return
    ask_folder(window, window.tr("A folder or stick for copies of the shop"), partial(copy, window))


def copy(window: DeskWindow, target: Path) -> None:
    """Copy the shop behind the screen; the work goes on meanwhile."""
    root = window.folder.root

    def run(task: Task) -> Copied:
        def told(done: int, of: int) -> None:
            task.check()
            task.tell((done, of))

        return wiring.copy_shop(root, target, told)

    work = Work(run, window)
    work.setObjectName(COPYING)
    work.progress.connect(
        lambda part: window.tell(
            f"Copying the shop: {100 * part[0] / max(1, part[1]):.0f} %. The same command stops it.", "plain"
        )
    )
    work.cancelled.connect(lambda: window.tell("Stopped. Nothing of the copy is left.", "plain"))
    work.done.connect(lambda made: window.tell(f"Copied and opened to prove it: {words_of(made)}.", "good"))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def ask_restore(window: DeskWindow, open_it: Callable[[Path], None]) -> None:
    """Ask for a copy, show what is in it, then ask where the shop goes."""
    ask_folder(window, window.tr("A copy of a shop"), lambda path: look(window, path, open_it))


def look(window: DeskWindow, path: Path, open_it: Callable[[Path], None]) -> None:
    """Open a copy behind the screen and ask whether that is the one."""
    work = Work(lambda _: wiring.look_at_copy(path), window)
    work.done.connect(lambda found: _ask(window, found, open_it))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def restore(window: DeskWindow, path: Path, target: Path, open_it: Callable[[Path], None]) -> None:
    """Make a shop of a copy and open it."""
    work = Work(lambda _: wiring.restore_shop(path, target), window)
    work.done.connect(lambda folder: open_it(folder.root))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def tell_of_another_computer(window: DeskWindow) -> None:
    """Say where a shop was opened last, when that was not here."""
    site = window.site
    if site is None or site.shop.invented:
        return
    root = window.folder.root
    work = Work(lambda _: wiring.opened_here(root), window)
    work.done.connect(
        lambda other: window.tell(f"This shop was last opened on another computer: {other}.", "due") if other else None
    )
    work.start()


def words_of(found: Copied) -> str:
    """Say what is in a copy."""
    last = f", the last of {found.last[:10]}" if found.last else ""
    return f"{found.path.name}, {found.shop}, {found.records} records{last}"


def _ask(window: DeskWindow, found: Copied, open_it: Callable[[Path], None]) -> None:
    words = f"In this copy: {words_of(found)}. Its book is sound. Make a shop of it in a new folder?"

    def where() -> None:
        ask_where(
            window,
            "A new folder for the shop",
            found.path.name,
            "",
            lambda to: restore(window, found.path, to, open_it),
        )

    show_over(QuestionDialog(words, "Choose the folder", where, window), window)
