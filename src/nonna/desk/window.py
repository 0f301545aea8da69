"""The main window: bar, rail, the places, and one sheet at a time."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QTimer, Signal
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence, QPaintEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from nonna.desk import rounds
from nonna.desk.bar import Bar, Rail
from nonna.desk.commands import COMMANDS, Do
from nonna.desk.look import style
from nonna.desk.look.palette import DARK, LIGHT
from nonna.desk.loop.view import LoopView
from nonna.desk.settings import DeskSettings
from nonna.desk.widgets import card, label, set_property
from nonna.desk.work import Work
from nonna.metrology.errors import NonnaError
from nonna.records.state import ShopState, read_state
from nonna.shop.folder import ShopFolder

if TYPE_CHECKING:
    from nonna.desk.book.view import BookView
    from nonna.desk.sheet.view import SheetView
    from nonna.desk.shelf.view import ShelfView
    from nonna.desk.tools.view import ToolsView
    from nonna.records.site import Site
    from nonna.standin.world import World

AFTER_PAINT_MS = 30  #: lets the first picture reach the screen before loading competes with it


class DeskWindow(QMainWindow):
    """Shows one shop. Slow parts load behind the first picture; wishes made meanwhile are kept."""

    ready = Signal()
    asked = Signal(str)  #: a command (`Do`) to be carried out
    withdrawal_asked = Signal(int)  #: a record's number
    card_put_asked = Signal(str, object)  #: group and card for the shelf
    recall_asked = Signal(str, str)  #: a master's id and name
    tray_asked = Signal(str)  #: a wish of the tray that needs a dialog

    def __init__(self, folder: ShopFolder, settings: DeskSettings) -> None:
        super().__init__()
        self.setWindowTitle("Nonna")
        self.folder, self.settings = folder, settings
        self.units = settings.units
        self.site: Site | None = None
        self.sheet: SheetView | None = None
        self._tools: ToolsView | None = None
        self._book: BookView | None = None
        self._shelf: ShelfView | None = None
        self._queue: list[tuple[str, str]] = []
        self._origin = Do.LOOP
        self._in_round = False
        self._source = "typed"
        self._worlds: dict[tuple[Path, str], World] = {}
        self._wish: Callable[[], None] | None = None
        self._warming: Work | None = None
        self.bar, self.rail, self.loop = Bar(), Rail(), LoopView()
        self._pages = QStackedWidget()
        self._banner, inside = card(tone="due", margins=(20, 10, 20, 10))
        self._banner_words = label("", wrap=True)
        inside.addWidget(self._banner_words)
        self._arrange()
        self._connect()
        self.state: ShopState | None = None
        self.refresh()
        self.go(Do.LOOP)
        if settings.geometry is not None:
            self.restoreGeometry(settings.geometry)
        else:
            self.resize(1280, 800)

    @property
    def operator(self) -> str:
        """Who signs."""
        names = self.state.operators if self.state else ("nobody",)
        return self.settings.operator if self.settings.operator in names else names[0]

    @property
    def tools(self) -> ToolsView:
        """The Tools view, made when first wanted."""
        if self._tools is None:
            from nonna.desk.tools.controller import TrayController
            from nonna.desk.tools.view import ToolsView

            self._tools = ToolsView(TrayController(self))
            self._tools.measure_asked.connect(self._on_measure_asked)
            self._tools.asked.connect(self.tray_asked)
            self._pages.addWidget(self._tools)
            if self.state is not None:
                self._tools.show_state(self.state, self.units)
        return self._tools

    def at(self, place: Do) -> bool:
        """Whether the tray or the book stands in front."""
        view = {Do.TOOLS: self._tools, Do.BOOK: self._book}.get(place)
        return view is not None and self._pages.currentWidget() is view

    @property
    def book(self) -> BookView:
        """The Book view, made when first wanted."""
        if self._book is None:
            from nonna.desk.book.view import BookView

            self._book = BookView()
            self._book.certificate_asked.connect(self.write_certificate)
            self._book.withdrawal_asked.connect(self.withdrawal_asked)
            self._pages.addWidget(self._book)
            if self.state is not None:
                self._book.show_state(self.state, self.units)
        return self._book

    @property
    def shelf(self) -> ShelfView:
        """The Shelf view, made when first wanted."""
        if self._shelf is None:
            from nonna.desk.shelf.view import ShelfView

            self._shelf = ShelfView()
            self._shelf.put_asked.connect(self.card_put_asked)
            self._shelf.recall_asked.connect(self.recall_asked)
            self._pages.addWidget(self._shelf)
        return self._shelf

    def _arrange(self) -> None:
        self._pages.addWidget(self.loop)
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(0)
        body.addWidget(self.rail)
        page = QVBoxLayout()
        page.setSpacing(0)
        page.addWidget(self._banner)
        page.addWidget(self._pages, 1)
        body.addLayout(page, 1)
        whole = QWidget()
        whole.setObjectName("page")
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.bar)
        column.addLayout(body, 1)
        self.setCentralWidget(whole)
        self.tell("", "plain")

    def _connect(self) -> None:
        self.bar.asked.connect(self.do)
        self.rail.asked.connect(self.do)
        self.loop.link_chosen.connect(self.open_link)
        self.loop.job_started.connect(lambda _: self.start_round())
        for command in COMMANDS:
            action = QAction(command.words, self)
            if command.keys:
                action.setShortcut(QKeySequence(command.keys))
            action.triggered.connect(lambda _=False, do=command.do: self.do(do))
            self.addAction(action)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Once the first picture stands, load the rest."""
        super().paintEvent(event)
        if self._warming is None:
            from nonna.desk.warm import warm_up

            folder = self.folder
            self._warming = Work(lambda _: warm_up(folder), self)
            self._warming.done.connect(self._on_warm)
            self._warming.failed.connect(lambda error: self.tell(error.message, "bad"))
            QTimer.singleShot(AFTER_PAINT_MS, self._warming.start)

    def changeEvent(self, event: QEvent) -> None:
        """Coming back to the window: somebody else may have signed meanwhile."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow() and self.site is not None:
            self.refresh()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Remember the window; a sheet under way is not lost without a word."""
        waiting = self._tools is not None and bool(self._tools.controller.tray.results)
        if waiting or (self.sheet is not None and self.sheet.controller.unsigned):
            what, leave = ("The tray's results are", "Ctrl+Z") if waiting else ("A sheet is", "Esc")
            self.tell(f"{what} not signed yet. Sign, or leave it with {leave}, then close.", "due")
            event.ignore()
            return
        if self.sheet is not None:
            self.sheet.controller.cancel()
            self.sheet.controller.stop_live()
        self.settings.geometry = self.saveGeometry()
        super().closeEvent(event)

    def refresh(self) -> None:
        """Read the shop afresh and show it everywhere."""
        try:
            self.state = read_state(self.folder)
        except NonnaError as error:
            self.tell(error.message, "bad")
            return
        self.bar.show_state(self.state, self.units, self.operator)
        self.loop.show_state(self.state, self.units)
        for view in (self._tools, self._book):
            if view is not None:
                view.show_state(self.state, self.units)

    def tell(self, words: str, tone: str) -> None:
        """Say something that concerns the whole shop."""
        self._banner_words.setText(words)
        self._banner.setVisible(bool(words))
        set_property(self._banner, "tone", tone)

    def do(self, what: str) -> None:
        """Ask for a command."""
        self.asked.emit(what)

    def go(self, place: Do) -> None:
        """Show a place; a sheet under way stays open behind it."""
        self.rail.show_place(place)
        if place is Do.SHELF:
            self.show_shelf()
        view = self._view(place)
        self._pages.setCurrentWidget(view)
        view.take_keyboard()

    def _view(self, place: Do) -> ToolsView | BookView | ShelfView | LoopView:
        if place is Do.TOOLS:  # each made only when first wanted
            return self.tools
        return self.book if place is Do.BOOK else self.shelf if place is Do.SHELF else self.loop

    def show_shelf(self) -> None:
        """Read the cards afresh."""
        from nonna.shop.shelving import cards

        try:
            self.shelf.show_cards(cards(self.folder))
        except NonnaError as error:
            self.tell(error.message, "bad")

    def open_link(self, key: str) -> None:
        """Open what a link stands for."""
        if self.state is None:
            return
        if key == "tools":
            self.go(Do.TOOLS)
        elif key == "master":
            self.go(Do.SHELF)
        else:
            link = next(s.link for s in self.state.links if s.link.key == key)
            self.open_sheets([(link.procedure, link.subject)], Do.LOOP)

    def open_sheets(self, wanted: Sequence[tuple[str, str]], origin: Do) -> None:
        """Open sheets (procedure, subject) one after another."""
        if self.site is None:
            self._wish = lambda: self.open_sheets(wanted, origin)
            self.tell("One moment, the rest is still loading…", "plain")
            return
        if self.sheet is not None:
            self.show_sheet()
            self.tell("This sheet is not signed yet. Sign it, or leave it with Esc.", "due")
            return
        self._queue, self._origin = list(wanted), origin
        self._open_next()

    def close_sheet(self) -> None:
        """Leave the sheet; go on with the next one in the queue, or back to where we came from."""
        signed = self.sheet is not None and self.sheet.controller.receipt is not None
        stop = ""
        if self.sheet is not None:
            stop = rounds.stop_words(self.sheet.controller) if self._in_round else ""
            self._source = self.sheet.controller.source if self._in_round else "typed"
            self.sheet.controller.stop_live()
            self._pages.removeWidget(self.sheet)
            self.sheet.deleteLater()
            self.sheet = None
        self.tell("", "plain")
        if signed and self._queue and not stop:
            self._open_next()
            return
        finished = self._in_round and signed and not self._queue and not stop
        self._queue, self._in_round, self._source = [], False, "typed"
        self.refresh()
        self.go(self._origin)
        if stop:
            self.tell(stop, "bad")
        elif finished:
            self.tell("The round is done.", "good")

    def show_units(self) -> None:
        """Change the unit everywhere."""
        self.units = self.units.other
        self.settings.units = self.units
        self.refresh()
        if self.sheet is not None:
            self.sheet.show_units(self.units)

    def show_theme(self) -> None:
        """Change between light and dark."""
        self.settings.dark = not self.settings.dark
        app = QApplication.instance()
        if isinstance(app, QApplication):
            style.apply(app, DARK if self.settings.dark else LIGHT)

    def write_certificate(self, number: int, path: Path) -> None:
        """Write a record's certificate in the background."""
        folder = self.folder

        def write(_: Work) -> str:
            from nonna.records.certificate_pdf import write
            from nonna.records.ledger import Ledger

            with Ledger(folder.ledger, create=False, reading=True) as book:
                write(book.get(number), path, book.withdrawal_of(number))
            return f"{path.name} written."

        work = Work(write, self)
        work.done.connect(lambda words: self.book.say(words, "good"))
        work.failed.connect(lambda error: self.book.say(error.message, "bad"))
        work.start()

    def world(self) -> World:
        """Return the stand-in machine of this shop; what hands change on it lasts while the window is open."""
        from nonna.standin.world import World

        if self.site is None:
            raise RuntimeError("no shop is loaded yet")
        place = (self.folder.root, self.site.machine.name)
        if place not in self._worlds:
            probe = self.site.gear.probe(self.site.machine.name)
            length, ball = (probe.length_mm, probe.ball_mm) if probe else (121.5, 6.0)
            self._worlds[place] = World.from_seed(self.site.shop.standin_seed, length, ball)
        return self._worlds[place]

    def start_round(self) -> None:
        """Do all that the loop needs now, sheet after sheet; it stops at the first link that fails."""
        if self.state is None:
            return
        sheets = rounds.wanted(self.state.jobs)
        if sheets:
            self._in_round = True
            self.open_sheets(sheets, Do.LOOP)

    def _open_next(self) -> None:
        from nonna.desk.sheet.controller import SheetController
        from nonna.desk.sheet.draft_keeper import DraftKeeper
        from nonna.desk.sheet.view import SheetView
        from nonna.records.opening import open_sheet

        if self.site is None:
            return
        name, subject = self._queue.pop(0)
        try:
            opening = open_sheet(self.site, name, subject)
        except NonnaError as error:
            self._queue, self._in_round = [], False
            self.go(self._origin)
            self.tell(error.message, "bad")
            return
        links = self.state.links if self.state else ()
        controller = SheetController(self.site, opening, self.operator, self.units, links, self.world)
        controller.in_round = self._in_round
        controller.source = self._source
        keeper = DraftKeeper(controller)
        left = keeper.take_up()
        self.sheet = SheetView(controller)
        self.sheet.closed.connect(keeper.forget)
        self.sheet.live_url = self.settings.indicator
        self.sheet.closed.connect(self.close_sheet)
        controller.left.connect(self.close_sheet)
        controller.signed.connect(lambda _: self.refresh())
        self._pages.addWidget(self.sheet)
        self.show_sheet()
        self.tell(left, "due")

    def show_sheet(self) -> None:
        """Bring the open sheet back."""
        if self.sheet is not None:
            self.rail.show_place(self._origin)
            self._pages.setCurrentWidget(self.sheet)
            self.sheet.numbers.reading.setFocus()

    def _on_warm(self, site: Site) -> None:
        self.site = site
        self.tell("", "plain")
        if self._tools is not None and self.state is not None:
            self._tools.show_state(self.state, self.units)
        wish, self._wish = self._wish, None
        if wish is not None:
            wish()
        self.ready.emit()

    def _on_measure_asked(self, subjects: tuple[str, ...]) -> None:
        self.open_sheets([("tool-length", subject) for subject in subjects], Do.TOOLS)
