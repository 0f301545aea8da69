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

if TYPE_CHECKING:
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.loop.view import LoopView
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools.view import ToolsView
    from nonna.shop.links.judge import NextJob


def _carry_out(window: DeskWindow, do: str) -> None:
    from nonna.desk.actions.by_command import carry_out  # not before: with all it needs it takes 2.4 s

    carry_out(window, do)


def _loop(window: DeskWindow, view: LoopView) -> None:
    def start(job: NextJob) -> None:
        from nonna.desk.actions.by_command import start_job

        start_job(window, job)

    view.link_chosen.connect(window.open_link)
    view.job_started.connect(start)


def _tools(window: DeskWindow, view: ToolsView) -> None:
    from nonna.desk.tray.by_command import asked

    view.measure_asked.connect(window.measure)
    view.asked.connect(partial(asked, window))
    view.controller.exchanged.connect(lambda: asked(window, "exchanged"))


def _book(window: DeskWindow, view: BookView) -> None:
    from nonna.desk.actions.by_command import withdraw
    from nonna.desk.signing.certificate_out import write_certificate

    view.certificate_asked.connect(partial(write_certificate, window))
    view.withdrawal_asked.connect(partial(withdraw, window))


def _shelf(window: DeskWindow, view: ShelfView) -> None:
    from nonna.desk.actions.by_command import put_card, recall
    from nonna.desk.signing.asking_machine import ask_station

    view.put_asked.connect(partial(put_card, window))
    view.recall_asked.connect(partial(recall, window))
    view.station_asked.connect(lambda: ask_station(window))


def _complete(window: DeskWindow) -> None:
    from nonna.desk.start.after_paint import complete

    complete(window)


def _ready(window: DeskWindow) -> None:
    from nonna.desk.start.after_paint import load_pages

    load_pages(window)


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
    window.painted.connect(partial(_complete, window))
    window.ready.connect(partial(_ready, window))
    window.asked.connect(partial(_carry_out, window))
    for key, view in window.places.views.items():
        _wire(window, key, view)
    window.places.made.connect(partial(_wire, window))
    return window
