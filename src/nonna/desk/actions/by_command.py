"""What each command does to the window."""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial
from pathlib import Path

from nonna import wiring
from nonna.bench.book.writing import withdrawal
from nonna.bench.session.front import Task
from nonna.bench.sheet.drafts import left_behind
from nonna.bench.shelf.shelving import RENEWED, cards, follows, put
from nonna.bench.station.site import Site
from nonna.bench.station.weakest import Doubt, doubts
from nonna.desk.actions import copies, helping, menu, settings_actions
from nonna.desk.actions.choices import EVENT, PAGE, SERVICE, SHEET, choices
from nonna.desk.actions.papers import ask_bench_list, ask_labels, ask_pockets
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.page import on_rail
from nonna.desk.forms.file_dialog import ask_folder
from nonna.desk.forms.finder import Finder, Offer
from nonna.desk.forms.one_line import NoteDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.frame.window import DeskWindow
from nonna.desk.pages.loop.what_if import WhatIfDialog
from nonna.desk.signing import asking_machine, cards_outside
from nonna.desk.signing.event_signing import log_event, sign, sign_behind, signature_here
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import Work, behind
from nonna.desk.tray import by_command as tray
from nonna.desk.tray.wear_dialog import show_wear
from nonna.procedures import offers
from nonna.procedures.listing import PROCEDURES, one_offering
from nonna.shop.links.judge import NextJob
from nonna.shop.links.loop import LinkSort
from nonna.shop.links.subjects import ANY, DAILY_CHECK, STATION, Subject, master
from nonna.shop.texts.given import Plain
from nonna.stations.kind import event_words

_OPERATOR, _MACHINE = "operator:", "machine:"


def tell_of_drafts(window: DeskWindow) -> None:
    """Say which sheets were left unsigned when the program ended last."""

    def tell(names: tuple[str, ...]) -> None:
        if names and window.sheet is None:
            window.tell(f"Left unsigned: {'; '.join(names)}. Open it and it goes on where it was left.", "due")

    folder = window.folder
    work = Work(lambda _: left_behind(folder), window)  # nobody asked for it: closing does not wait for it
    work.done.connect(tell)
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


LOG = logging.getLogger("nonna")


def carry_out(window: DeskWindow, asked: str) -> None:
    """Carry out a command on the window."""
    LOG.info("command %s", asked)
    if asked in {page.key for page in on_rail()}:
        window.come_to(asked)
        return
    do = CommandId(asked)
    actions: dict[CommandId, Callable[[], None]] = {
        CommandId.ROUND: window.start_round, CommandId.DAILY: lambda: daily(window),
        CommandId.BENCH_LIST: lambda: ask_bench_list(window), CommandId.LABELS: lambda: ask_labels(window),
        CommandId.POCKETS: lambda: ask_pockets(window), CommandId.HIDE_FAULT: lambda: hide_fault(window),
        CommandId.SHOW_FAULT: lambda: show_fault(window), CommandId.INDICATOR: lambda: ask_indicator(window),
        CommandId.WHAT_IF: lambda: what_if(window), CommandId.ASK_MACHINE: lambda: asking_machine.ask_machine(window),
        CommandId.WEAR: lambda: show_wear(window), CommandId.MACHINE: lambda: choose_machine(window),
        CommandId.UNITS: window.show_units, CommandId.THEME: window.show_theme, CommandId.FIND: lambda: find(window),
        CommandId.OPERATOR: lambda: choose_operator(window), CommandId.OPEN_SHOP: lambda: choose_shop(window),
        CommandId.CERTIFICATE: lambda: _certificate(window), CommandId.WRITE_TABLE: lambda: _write_table(window),
        CommandId.TAKE_UP: lambda: take_up(window), CommandId.THROW_AWAY: lambda: throw_away(window),
        CommandId.COPY_SHOP: lambda: copies.ask_copy(window),
        CommandId.RESTORE: lambda: copies.ask_restore(window, lambda path: open_shop(window, path)),
        CommandId.SETTINGS: lambda: settings_actions.open_settings(window),
        CommandId.HELP: lambda: helping.help_here(window),
        CommandId.KEYS: lambda: helping.keys_here(window), CommandId.MENU: lambda: _menu(window),
        CommandId.VERIFY: lambda: verify(window),
        CommandId.CARDS_OUTSIDE: lambda: cards_outside.look_at_changes(window),
        CommandId.BACK: lambda: _back(window), CommandId.QUIT: lambda: _quit(window),
    }  # fmt: skip
    if do in actions:
        actions[do]()
        return
    if do is CommandId.TRAY_FIND and window.places.at(CommandId.BOOK):
        window.book.search.setFocus()
        return
    if do in tray.ACTIONS:
        if window.tools.isVisible():
            tray.ACTIONS[do](window)
        else:  # the tray is painted first: page and dialog in one go hold the keyboard up
            window.come_to(CommandId.TOOLS)
            next_turn(window, lambda: next_turn(window, partial(tray.ACTIONS[do], window)))
        return
    if do in tray.HERE and window.places.at(CommandId.TOOLS):
        tray.HERE[do](window)
        return
    if do is CommandId.UNDO and not window.sheets.in_front and window.sheets.bring_back():
        return
    sheet = window.sheet
    if sheet is None or not window.sheets.in_front:  # nothing happens on a sheet that nobody sees
        how = "Esc takes up the one that waits." if window.sheets.waiting else "Enter on the loop starts the next job."
        window.tell(f"That needs an open sheet. {how}", "plain")
        return
    {
        CommandId.UNDO: sheet.controller.undo, CommandId.REDO: sheet.controller.redo,
        CommandId.STANDIN: sheet.controller.run_standin,
        CommandId.FILE: sheet.choose_file,
        CommandId.SETUP: sheet.toggle_setup, CommandId.STRIKE: sheet.strike_last, CommandId.LIVE: sheet.toggle_live,
    }[do]()  # fmt: skip


def find(window: DeskWindow) -> None:
    """Open the palette: commands, sheets, events to log, pages of the guide."""
    _open_finder(window, choices(window.state))


def choose_operator(window: DeskWindow) -> None:
    """Ask who signs from now on."""
    names = window.state.operators if window.state else ()
    _open_finder(window, [Offer(_OPERATOR + name, f"Sign as {name}") for name in names], "Who signs from now on?")


def choose_machine(window: DeskWindow) -> None:
    """Ask which machine of the shop is shown from now on."""
    folder, names = window.folder, window.site.shop.machines if window.site else []
    behind(
        window,
        lambda: [Offer(_MACHINE + key, f"Show {folder.machine(key).name}") for key in names],
        lambda choices: _open_finder(window, choices, "Which machine?"),
        lambda error: window.tell(error.message, "bad"),
    )


def choose_shop(window: DeskWindow) -> None:
    """Ask for another shop folder."""
    ask_folder(window, "Shop folder", lambda path: open_shop(window, path))


def open_shop(window: DeskWindow, path: Path) -> None:
    """Open another shop in this window; a folder without a shop is refused in words."""
    folder = wiring.shop_files(path)
    window.move_to(folder, window.settings.station(folder.root))


def take_up(window: DeskWindow) -> None:
    """Take up the sheet that waits."""
    if not window.sheets.show():
        window.tell("No sheet waits.", "plain")


def throw_away(window: DeskWindow) -> None:
    """Ask once, then throw the readings of the sheet in hand away; Ctrl+Z brings them back."""
    if not window.sheets.in_front and not window.sheets.show():  # it is looked at before it is thrown away
        window.tell("There is no sheet to throw away.", "plain")
        return
    sheet = window.sheet
    if sheet is None:
        return
    count = len(sheet.controller.session.rows)
    if not count or sheet.controller.receipt is not None:
        sheet.left.emit()
        return
    words = f"Throw {count} reading{'' if count == 1 else 's'} away? They are not signed."
    show_over(QuestionDialog(words, "Throw away", window.sheets.throw_away, window), window)


def withdraw(window: DeskWindow, number: int) -> None:
    """Ask why a record is taken back, then sign that."""
    dialog = NoteDialog(f"Take back record {number}: why?", "what was wrong with it", window)
    dialog.given.connect(lambda note: sign(window, lambda s: withdrawal(number, s, note), ANY))
    show_over(dialog, window)


def put_card(window: DeskWindow, group: str, card: dict[str, Plain]) -> None:
    """Put a card on the shelf, signed; of a master with a new certificate it is asked whether it is back from
    calibration.
    """
    folder, station, shown = window.folder, window.station, window.shelf.shown or None
    signature = signature_here(window)
    if signature is None:
        window.shelf.stored("One moment, the rest is still loading…", "plain")
        return

    def stored() -> tuple[tuple[str, ...], Site, dict[str, list[dict[str, Plain]]]]:
        return put(folder, group, card, signature, shown), Site.load(folder, station), cards(folder)

    def on_stored(found: tuple[tuple[str, ...], Site, dict[str, list[dict[str, Plain]]]]) -> None:
        changed, site, there = found
        if window.folder is folder and window.station == station:
            window.tables.take_cards(site)
        if group == "masters" and card.get("id") and any(card.get(name) for name in changed if name in RENEWED):
            _ask_if_calibrated(window, card, changed)
        window.look_again()
        window.shelf.show_cards(there)
        open_ends = " ".join(follows(group, card)) if changed else ""
        words = f"On the shelf. {open_ends}".strip() if changed else "Nothing changed."
        window.shelf.stored(words, "due" if open_ends else "good" if changed else "plain")

    sign_behind(window, stored, on_stored, lambda error: window.shelf.stored(error.message, "bad"))


def _ask_if_calibrated(window: DeskWindow, card: dict[str, Plain], changed: tuple[str, ...]) -> None:
    """Ask whether a master whose card names another certificate was calibrated anew: only then is that signed."""
    note = f"{card['name']}: new {', '.join(changed)}"
    words = f"{card['name']}: is it back from calibration, or was its card wrong?"
    dialog = QuestionDialog(
        words,
        "Back from calibration",
        lambda: log_event(window, "master-calibrated", note, master(str(card["id"]))),
        window,
        "The card was wrong",
    )
    show_over(dialog, window)


def recall(window: DeskWindow, id_: str, name: str) -> None:
    """Ask why a master was recalled, then sign that; the loop follows."""
    dialog = NoteDialog(f"{name} recalled: why?", "what the laboratory wrote", window)
    dialog.given.connect(lambda note: log_event(window, "master-recalled", note, master(id_)))
    show_over(dialog, window)


def start_job(window: DeskWindow, job: NextJob) -> None:
    """Begin the round with a job; a part to be renewed is asked about alone."""
    if job.link.sort is LinkSort.SERVICE:
        ask_service(window, job.link.key.removeprefix("service-"))
    else:
        window.start_round()


def ask_service(window: DeskWindow, part: str) -> None:
    """Ask for a word about a part that was renewed, then sign that: its counter begins anew."""
    counter = next((c for c in window.state.counters if c.id == part), None) if window.state else None
    if counter is None:
        return
    torque = f" Tighten it to {counter.torque_nm:g} N m, as its maker says." if counter.torque_nm else ""
    dialog = NoteDialog(f"{counter.name} renewed?{torque}", "a word for the book", window)
    dialog.given.connect(lambda note: log_event(window, counter.event, f"{counter.name}: {note}", STATION))
    show_over(dialog, window)


def daily(window: DeskWindow) -> None:
    """Open the short check: one touch of the master proves the setter, or trips it."""
    window.open_sheets([(one_offering(offers.DAILY_CHECK), DAILY_CHECK)], CommandId.LOOP)


def what_if(window: DeskWindow) -> None:
    """Show what lengths and diameters would be good for if a link were done better."""
    state = window.state
    if state is None:
        return

    def show(found: tuple[Doubt, ...]) -> None:
        if found:
            show_over(WhatIfDialog(found, window.units, window), window)
        else:
            window.tell("Measure a tool first: then there is a doubt to look into.", "plain")

    behind(
        window,
        lambda: doubts(state.kind, state.standing, state.results.read),
        show,
        lambda error: window.tell(error.message, "bad"),
    )


def ask_indicator(window: DeskWindow) -> None:
    """Ask where the live indicator is."""
    words = (
        "Where is the indicator? A port, or socket://name:number; add “press” if its own button sends. "
        "“stand-in” for ours."
    )
    dialog = NoteDialog(words, "stand-in", window)

    def take(text: str) -> None:
        window.settings.indicator = "" if text == "stand-in" else text
        if window.sheet is not None:
            window.sheet.live_url = window.settings.indicator
        window.tell("F12 on a sheet with an indicator reads it.", "plain")

    dialog.given.connect(take)
    show_over(dialog, window)


def hide_fault(window: DeskWindow) -> None:
    """Break something on the stand-in machine, for practice."""
    if window.site is not None:
        window.world().hide_a_fault(len(window.state.entries) if window.state else 0)
        window.tell("Something is wrong with the stand-in machine now. Find it by measuring.", "due")


def show_fault(window: DeskWindow) -> None:
    """Mend the stand-in machine and say what was wrong with it."""
    if window.site is not None:
        words = window.world().mend_faults()
        window.tell(f"Mended: {'; '.join(words)}." if words else "Nothing was wrong with it.", "good")


def verify(window: DeskWindow) -> None:
    """Check the chain of records in the background."""
    book = window.folder.book

    def check(_: Task) -> tuple[str, str]:
        found = book.verify()
        if found.sound:
            return f"The chain of all {found.count} records is sound.", "good"
        return f"Record {found.first_damaged} is damaged: {found.reason}. Keep the file and fetch a copy.", "bad"

    work = Work(check, window)
    work.done.connect(lambda answer: window.tell(*answer))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def _open_finder(window: DeskWindow, choices: list[Offer], hint: str = "") -> None:

    finder = Finder(choices, window, hint)
    finder.chosen.connect(lambda key: chosen(window, key))
    show_over(finder, window)


def chosen(window: DeskWindow, key: str) -> None:
    """Do what was chosen in the palette or the menu."""
    if key.startswith(_OPERATOR):
        window.settings.operator = key.removeprefix(_OPERATOR)
        settings_actions.show_operator(window)
    elif key.startswith(_MACHINE):
        window.show_station(key.removeprefix(_MACHINE))
    elif key.startswith(SHEET):
        name, _, subject = key.removeprefix(SHEET).partition(":")
        window.open_sheets([(name, Subject.of(subject) if subject else PROCEDURES[name].subject)], CommandId.LOOP)
    elif key.startswith(PAGE):
        helping.show(window, key.removeprefix(PAGE))
    elif key.startswith(SERVICE):
        ask_service(window, key.removeprefix(SERVICE))
    elif key.startswith(EVENT):
        name, _, subject = key.removeprefix(EVENT).partition(":")
        dialog = NoteDialog(f"{event_words(name)}: what happened?", "a few words for the book", window)
        dialog.given.connect(lambda note: log_event(window, name, note, Subject.of(subject)))
        show_over(dialog, window)
    else:
        carry_out(window, CommandId(key))


def _menu(window: DeskWindow) -> None:
    menu.open_menu(window, partial(chosen, window))


def _certificate(window: DeskWindow) -> None:
    window.go(CommandId.BOOK)
    window.book.ask_where()


def _write_table(window: DeskWindow) -> None:
    window.go(CommandId.TOOLS)
    window.tools.ask_where()


def _back(window: DeskWindow) -> None:
    window.tell("", "plain")
    if window.places.at(CommandId.TOOLS) and tray.back(window):
        return
    if window.sheets.in_front and window.sheet is not None:
        window.sheet.back()
    elif not window.sheets.waiting or not window.sheets.show():
        window.come_to(CommandId.LOOP)


def _quit(window: DeskWindow) -> None:
    window.close()
