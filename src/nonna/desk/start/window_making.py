"""Makes a window that carries out what it is asked; what it can do is loaded with the first command."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtWidgets import QApplication, QWidget

from nonna.bench.ports import ShopFiles
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.window import DeskWindow
from nonna.desk.threads.garbage_collection import collect_on_this_thread
from nonna.lazy_modules import lazy_module

if TYPE_CHECKING:
    from nonna.desk.actions import by_command as command_actions
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.loop.view import LoopView
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools.view import ToolsView
    from nonna.desk.signing import asking_machine, cards_outside, certificate_out
    from nonna.desk.start import after_paint
    from nonna.desk.tray import by_command as tray_actions
else:
    after_paint, asking_machine, cards_outside, certificate_out, command_actions, tray_actions = (
        lazy_module(name)
        for name in (
            "nonna.desk.start.after_paint",
            "nonna.desk.signing.asking_machine",
            "nonna.desk.signing.cards_outside",
            "nonna.desk.signing.certificate_out",
            "nonna.desk.actions.by_command",
            "nonna.desk.tray.by_command",
        )
    )


def _loop(window: DeskWindow, view: LoopView) -> None:
    view.link_chosen.connect(window.open_link)
    view.job_started.connect(lambda job: command_actions.start_job(window, job))


def _tools(window: DeskWindow, view: ToolsView) -> None:
    view.measure_asked.connect(window.measure)
    view.asked.connect(lambda wish: tray_actions.asked(window, wish))
    view.controller.exchanged.connect(lambda: tray_actions.asked(window, "exchanged"))


def _book(window: DeskWindow, view: BookView) -> None:
    view.certificate_asked.connect(lambda number, path: certificate_out.write_certificate(window, number, path))
    view.withdrawal_asked.connect(lambda number: command_actions.withdraw(window, number))


def _shelf(window: DeskWindow, view: ShelfView) -> None:
    view.put_asked.connect(lambda group, card: command_actions.put_card(window, group, card))
    view.recall_asked.connect(lambda id_, name: command_actions.recall(window, id_, name))
    view.station_asked.connect(lambda: asking_machine.ask_station(window))


#: what the window does about a page's wishes, by the page's key
WIRED: dict[str, Callable[[DeskWindow, Any], None]] = {"loop": _loop, "tools": _tools, "book": _book, "shelf": _shelf}


def _wire(window: DeskWindow, key: str, view: QWidget) -> None:
    """Have a page's wishes carried out; one without an entry asks nothing."""
    if key in WIRED:
        WIRED[key](window, view)


def make_window(folder: ShopFiles, settings: DeskSettings) -> DeskWindow:
    """Return a window on a shop that carries out what it is asked."""
    app = QApplication.instance()
    if app is not None:
        collect_on_this_thread(app)  # before the first worker thread starts
    window = DeskWindow(folder, settings)
    window.painted.connect(lambda: after_paint.complete(window))
    window.asked.connect(lambda do: command_actions.carry_out(window, do))
    for key, view in window.places.views.items():
        _wire(window, key, view)
    window.places.made.connect(partial(_wire, window))
    window.ready.connect(lambda: after_paint.load_pages(window))
    window.ready.connect(lambda: command_actions.tell_of_drafts(window))
    window.ready.connect(lambda: cards_outside.tell_of_changes(window))
    return window
