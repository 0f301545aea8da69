"""What each command of the tray does."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from nonna.bench.control.runs import note_measuring, run_in
from nonna.bench.job.breakage_checks import Operation, keep_operations, kept_operations
from nonna.bench.job.measuring_way import ways
from nonna.bench.job.planning import program_of
from nonna.bench.job.programs_run import has_run
from nonna.bench.job.programs_written import note_written
from nonna.bench.tray.lengths_known import known_lengths
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.overlay import is_open
from nonna.desk.pages.tools import dialogs
from nonna.desk.pages.tools.dialogs import job_dialog
from nonna.desk.pages.tools.forms.checks_dialog import ChecksDialog
from nonna.desk.pages.tools.forms.feed_dialog import feed_dialog
from nonna.desk.pages.tools.forms.grid_dialog import grid_dialog
from nonna.desk.pages.tools.forms.lengths_dialog import LengthsDialog
from nonna.desk.pages.tools.forms.ways_dialog import WaysDialog
from nonna.desk.signing.asking_machine import ask_machine
from nonna.desk.signing.event_signing import log_event
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import Work, behind
from nonna.desk.tray import program_pieces as pieces
from nonna.desk.tray.control_way import put_back, store
from nonna.desk.tray.machine_results import read_results, same_machine
from nonna.desk.tray.offsets_dialog import show_offsets
from nonna.desk.tray.over_tray import open_file, save_file, show_dialog
from nonna.desk.tray.own_program import write_own
from nonna.desk.tray.tables_in import paste_table, take_table
from nonna.desk.tray.wire import is_wired, place_of, take_what_came, watch
from nonna.errors import NonnaError
from nonna.wiring import must_be_there, write_text

if TYPE_CHECKING:
    from nonna.bench.job.measuring_way import Way
    from nonna.bench.tray.lengths_known import Known
    from nonna.desk.frame.window import DeskWindow


def asked(window: DeskWindow, wish: str) -> None:
    """Carry out a wish of the tray that needs a dialog."""
    view, c = window.tools, window.tools.controller
    number = view.table.number
    if wish == "program":
        write_program(window)
    elif wish == "add":
        show_dialog(window, dialogs.tool_dialog(c, None, window.units, window))
    elif wish in _FILLS:
        _FILLS[wish](window)
    elif wish == "machine":
        ask_machine(window)
    elif wish == "offsets":
        show_offsets(window)
    elif wish == "store":
        store(window)
    elif wish == "ways":
        measuring_ways(window)
    elif wish == "exchanged":
        doubts = c.doubts
        next_turn(view, lambda: show_dialog(window, dialogs.exchanged_dialog(c, doubts, window)))
    elif wish == "edit" and number is not None:
        show_dialog(window, dialogs.tool_dialog(c, number, window.units, window))
    elif wish == "touch" and number is not None:
        show_dialog(window, dialogs.touch_dialog(c, number, window.units, window))


def write_program(window: DeskWindow) -> None:
    """Write the program; one that stops in rehearsal only with a reason, which is recorded."""
    view, answer = window.tools, window.tools.controller.answer
    if view.controller.one_by_one:
        write_own(window)
        return
    if answer is None or not any(not p.refused for p in answer.plan.tools):
        view.say("Mark tools that can be measured first: then there is a program to write.", "due")
        return
    if answer.rehearsal.clean:
        _ask_program_file(window)
        return
    first = next(p for p in answer.rehearsal.problems if p.severity == "stop")
    words = f"It stops in rehearsal at block {first.line}: {first.message}. Write it all the same? Why?"
    dialog = NoteDialog(words, "this goes into the book", window)

    def override(note: str) -> None:
        log_event(window, "program-override", f"{note} (block {first.line}: {first.message})")
        _ask_program_file(window)

    dialog.given.connect(override)
    show_dialog(window, dialog)


def _ask_program_file(window: DeskWindow) -> None:
    place, answer = window.settings.programs, window.tools.controller.answer
    run = run_in(answer.text) if answer is not None else ""
    if run and is_wired(window):
        to = place_of(window, "measure", run)
        refused = partial(window.tools.say, tone="bad")
        behind(window, lambda: must_be_there(place), lambda _: save_program(window, to), lambda e: refused(e.message))
        return

    def ask(_: None) -> None:
        save_file(
            window,
            "Write the program",
            str(Path(place, "measure-tools.ngc")) if place else "measure-tools.ngc",
            "Programs (*.ngc *.nc *.txt)",
            lambda path: save_program(window, path),
        )

    behind(window, lambda: must_be_there(place), ask, lambda error: window.tools.say(error.message, "bad"))


def save_program(window: DeskWindow, path: Path) -> None:
    """Write the tray's program to a file; says so."""
    answer = window.tools.controller.answer
    if answer is None:
        return
    dry = path.with_name(f"{path.stem}-dry-run{path.suffix}")
    view, machine, site = window.tools, window.tools.controller.machine, window.site
    words = f"{path.name} written. First run: rapid down, doors shut, a finger on feed hold. Then F8 reads the results."
    with_dry = (
        f"{path.name} and {dry.name} written. First the dry run: rapid down, doors shut, a finger on feed "
        f"hold; every tool stays 50 mm above, or as high as the machine goes. Then {path.name}, just as "
        "carefully. Then F8 reads the results."
    )

    def write() -> bool:
        first = (
            site is not None and not site.shop.invented and machine is not None and not has_run(site.folder, machine)
        )
        text = program_of(machine).dry_run(answer.plan) if first and machine is not None else None
        if text is not None:
            write_text(dry, text)
        write_text(path, answer.text)
        if site is not None and machine is not None:
            note_written(site.folder, machine.name, answer.plan)  # F8 reads its results by that
            note_measuring(site.folder, machine.name, answer.text, answer.plan.asked.table)
        return first

    def said(words: str, tone: str) -> None:
        if view.rehearsing:
            window.tell(words, tone)  # the program stands in front of the tray
        else:
            view.say(words, tone)

    def written(first: bool) -> None:
        said(with_dry if first else words, "due" if first else "good")
        if run_in(answer.text):
            watch(window, run_in(answer.text))

    behind(
        window,
        write,
        written,
        lambda error: said(error.message, "bad"),
    )


def results(window: DeskWindow) -> None:
    """F8: ask for results; in front of a program, for another program to rehearse."""
    view = window.tools
    if view.rehearsing:
        open_program(window)
        return
    kinds = "Results (*.csv *.json *.log *.txt);;All files (*)"
    ask = partial(open_file, window, "Results of the machine", kinds, partial(read_results, window))
    take_what_came(window, ask) if window.settings.printed else ask()


def open_program(window: DeskWindow) -> None:
    """Ask for any program to rehearse on this machine."""

    def rehearse(path: Path) -> None:
        window.tools.show_rehearsal()
        window.tools.controller.plans.open_program(path)

    open_file(window, "Rehearse a program", "Programs (*.ngc *.nc *.tap *.txt);;All files (*)", rehearse)


def rehearsal(window: DeskWindow) -> None:
    """Show the program and its rehearsal, or the tray again."""
    if window.tools.rehearsing:
        back(window)
    else:
        window.tools.show_rehearsal()


def back(window: DeskWindow) -> bool:
    """Esc: stop measuring, leave a foreign program, or come back to the tray; says whether there was anything."""
    view = window.tools
    if view.controller.cancel():
        return True
    if view.rehearsing:
        if view.controller.plans.foreign is not None:
            view.controller.plans.close_program()
        else:
            view.show_tray()
        return True
    return False


def lengths(window: DeskWindow) -> None:
    """Show the lengths in another school; a lathe's measured offsets beside what its table holds."""
    site = window.site
    if window.tools.controller.by_program:
        show_offsets(window)
        return
    if site is None:
        window.tools.say("One moment, the rest is still loading…", "plain")
        return
    tools, still = window.tools.controller.tray.tools, same_machine(window)

    def show(known: Known | None) -> None:
        if not still():
            return
        if known is None:
            window.tools.say("No length is known yet.", "due")
        else:
            show_dialog(window, _lengths_dialog(window, known))

    behind(
        window,
        lambda: known_lengths(site.results(), tools),
        show,
        lambda error: window.tools.say(error.message, "bad"),
    )


def _lengths_dialog(window: DeskWindow, known: Known) -> LengthsDialog:
    dialog = LengthsDialog(known, window.units, window)

    def write(_: object) -> None:
        def save(path: Path) -> None:
            text = dialog.csv_text()
            behind(window, lambda: write_text(path, text), lambda _: written(path), refuse)

        def refuse(error: NonnaError) -> None:
            if is_open(dialog):
                dialog.refuse(error)
            else:
                window.tools.say(error.message, "bad")

        def written(path: Path) -> None:
            if is_open(dialog):
                dialog.accept()
            window.tools.say(f"{path.name} written.", "good")

        save_file(window, "Write the lengths", "lengths.csv", "CSV (*.csv)", save)

    dialog.submitted.connect(write)
    return dialog


def checks(window: DeskWindow) -> None:
    """Show where breakage checks pay."""
    shop, c = window.folder, window.tools.controller

    def refuse(error: NonnaError) -> None:
        window.tools.say(error.message, "bad")

    def show(found: tuple[list[Operation], float]) -> None:
        kept, cost = found
        numbers = c.marked or tuple(t.number for t in c.tray.tools[:8])
        start = kept or [Operation(f"T{n}", 2.0, 0.002, 20.0) for n in numbers]
        dialog = ChecksDialog(start, cost, window)
        dialog.kept.connect(
            lambda operations, each: behind(
                window, lambda: keep_operations(shop, operations, each), lambda _: None, refuse
            )
        )
        show_dialog(window, dialog)

    behind(window, lambda: kept_operations(shop), show, refuse)


def measuring_ways(window: DeskWindow) -> None:
    """Show for each tool whether the presetter is good enough or the machine's setter is needed."""
    site, c = window.site, window.tools.controller
    if site is None or not c.tray.tools:
        window.tools.say("No tools here yet.", "due")
        return
    plans = {tool.number: plan for tool in c.tray.tools if (plan := c.plan_of(tool)) is not None}

    def show(found: tuple[Way, ...]) -> None:
        dialog = WaysDialog(found, window.units, window)

        def mark(_: object) -> None:
            window.tools.mark(way.number for way in dialog.ways if way.choice == "setter")
            dialog.accept()

        dialog.submitted.connect(mark)
        show_dialog(window, dialog)

    tools, touches = c.tray.tools, c.tray.touches
    work = Work(lambda _: ways(site, tools, plans, touches), window)
    work.done.connect(show)
    work.failed.connect(lambda error: window.tools.say(error.message, "bad"))
    work.start()


def grid(window: DeskWindow) -> None:
    """Show the tools in rows, to be typed or pasted."""
    show_dialog(window, grid_dialog(window.tools.controller, window.units, window))


def feeds(window: DeskWindow) -> None:
    """Open the calculator of safe feeds."""
    show_dialog(window, feed_dialog(window.tools.controller.machine, window.units, window))


def job(window: DeskWindow) -> None:
    """Ask how the job is done."""
    show_dialog(window, job_dialog(window.tools.controller, window.units, window))


def spoil(window: DeskWindow) -> None:
    """Break a tool on the stand-in, or pull one out, for practice."""
    numbers = [t.number for t in window.tools.controller.tray.tools if t.kind not in ("probe", "master")]
    if window.site is not None and numbers:
        window.world().spoil_a_tool(numbers, len(window.state.entries) if window.state else 0)
        window.tools.say("One tool on the stand-in is not as it was. B checks for it.", "due")


def clear(window: DeskWindow) -> None:
    """Forget the lengths in the table, the probe's and masters' excepted."""
    c = window.tools.controller
    c.change(c.tray.cleared())
    window.tools.say("All lengths forgotten but the probe's and the masters'. Ctrl+Z brings them back.", "due")


_FILLS: Mapping[str, Callable[[DeskWindow], Any]] = {"grid": grid, "paste": paste_table, "take": take_table}
ACTIONS: Mapping[CommandId, Callable[[DeskWindow], Any]] = {
    CommandId.TRAY_TAKE: take_table, CommandId.TRAY_PASTE: paste_table, CommandId.TRAY_GRID: grid,
    CommandId.TRAY_PROGRAM: write_program,
    CommandId.TRAY_REHEARSAL: rehearsal, CommandId.TRAY_OPEN_PROGRAM: open_program,
    CommandId.TRAY_LENGTHS: lengths, CommandId.TRAY_CHECKS: checks, CommandId.TRAY_FEEDS: feeds,
    CommandId.TRAY_STORE: store, CommandId.TRAY_PUT_BACK: put_back,
    CommandId.TRAY_WAYS: measuring_ways, CommandId.TRAY_JOB: job,
    CommandId.TRAY_PIECE: pieces.piece,
    CommandId.TRAY_TEMPLATES: pieces.templates, CommandId.TRAY_SPOIL: spoil, CommandId.TRAY_CLEAR: clear,
    CommandId.TRAY_MARK: lambda w: w.tools.mark_shown(), CommandId.TRAY_MARK_OPEN: lambda w: w.tools.mark_open(),
    CommandId.TRAY_BY_HAND: lambda w: w.tools.measure_by_hand(), CommandId.TRAY_TOUCH: lambda w: asked(w, "touch"),
    CommandId.TRAY_EDIT: lambda w: asked(w, "edit"), CommandId.TRAY_ADD: lambda w: asked(w, "add"),
    CommandId.TRAY_RESULTS: results,
    CommandId.TRAY_FIND: lambda w: w.tools.search.setFocus(),
}  # fmt: skip
HERE: Mapping[CommandId, Callable[[DeskWindow], Any]] = {
    CommandId.STANDIN: lambda w: w.tools.controller.measure_on_standin(), CommandId.FILE: results,
    CommandId.LIVE: lambda w: w.tools.controller.listen(),
    CommandId.UNDO: lambda w: w.tools.controller.undo(), CommandId.REDO: lambda w: w.tools.controller.redo(),
}  # fmt: skip
"""Commands that sheets have too, as they are meant in front of the tray."""
