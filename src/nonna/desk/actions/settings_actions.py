"""What the settings do: to this desk at once, to the shop's rules behind the screen and signed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from nonna.bench.book.chain import Receipt
from nonna.bench.book.writing import Signature
from nonna.bench.settings.house_rules import decide, keep, may_sign
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.frame.settings_dialog import SettingsDialog
from nonna.desk.frame.window import DeskWindow
from nonna.desk.signing.event_signing import sign_behind
from nonna.errors import NonnaError
from nonna.shop.cards.rules import Rules
from nonna.shop.links.subjects import ANY
from nonna.wording.lengths import Units


def open_settings(window: DeskWindow) -> None:
    """Open the settings."""
    state, site = window.state, window.site
    if state is None or site is None:
        window.tell("One moment, the rest is still loading…", "plain")
        return
    dialog = SettingsDialog(window.settings, state, site, window.units, window)
    folder, station = window.folder, state.machine
    signature = Signature(window.operator, state.machine, ANY, state.shop, site.shop.invented)
    dialog.desk_asked.connect(partial(_take_desk, window, dialog))
    dialog.limits_asked.connect(
        lambda limits, rule: _behind(window, dialog, lambda: decide(folder, limits, rule, signature, dialog.rules))
    )
    dialog.links_asked.connect(
        lambda links: _behind(window, dialog, lambda: keep(folder, station, links, signature, dialog.rules))
    )
    dialog.signers_asked.connect(lambda names: _behind(window, dialog, lambda: may_sign(folder, names, signature)))
    show_over(dialog, window)


def show_operator(window: DeskWindow) -> None:
    """Show who signs from now on, everywhere."""
    if window.state is not None:
        window.bar.show_state(window.state, window.units, window.operator)
    for view in window.pages.all:
        if view.controller.receipt is None:
            view.controller.operator = window.operator
            view.controller.notices.look(view.controller)


def _take_desk(window: DeskWindow, dialog: SettingsDialog, said: Mapping[str, str]) -> None:
    settings = window.settings
    settings.theme, settings.indicator, settings.programs = said["theme"], said["indicator"], said["programs"]
    settings.printed = said["printed"]
    if said["operator"]:
        settings.operator = said["operator"]
    window.wear_theme()
    units = Units(said["units"], said["digits"] == "coarse")
    if window.units != units:
        window.show_units(units)
    show_operator(window)
    again = int(said["text"]) != settings.text_percent
    settings.text_percent = int(said["text"])
    dialog.say("Taken over; the text size from the next start on." if again else "Taken over.", "good")


def _behind(window: DeskWindow, dialog: SettingsDialog, act: Callable[[], Receipt | None]) -> None:
    dialog.say("One moment…", "plain")
    folder = window.folder

    def done(found: tuple[Receipt | None, Rules]) -> None:
        receipt, dialog.rules = found
        window.look_again()
        words = f"Taken over, signed as record {receipt.number}." if receipt is not None else "Taken over."
        if is_open(dialog):
            dialog.say(words, "good")
        else:
            window.tell(words, "good")

    def failed(error: NonnaError) -> None:
        if is_open(dialog):
            dialog.refuse(error)
        else:
            window.tell(error.message, "bad")

    sign_behind(window, lambda: (act(), folder.rules()), done, failed)
