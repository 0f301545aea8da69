"""The main window: bar, rail, the places, and one sheet at a time. It shows a session and asks it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QCloseEvent, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QVBoxLayout, QWidget

from nonna.bench.ports import ShopFiles
from nonna.bench.session.shop_session import ShopSession
from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.widgets import Room
from nonna.desk.frame.banner import Banner
from nonna.desk.frame.bar import Bar, Rail
from nonna.desk.frame.front import QtFront
from nonna.desk.frame.places import Places
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.sheet_pages import SheetPages
from nonna.desk.look import style
from nonna.desk.look.palette import DARK, LIGHT
from nonna.desk.threads.garbage_collection import spare_what_stays
from nonna.desk.threads.work import Work

if TYPE_CHECKING:
    from nonna.bench.session.machine_tables import MachineTables
    from nonna.bench.session.sheet.in_hand import SheetsInHand
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.bench.station.site import Site
    from nonna.desk.frame.places import PageView
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.loop.view import LoopView
    from nonna.desk.pages.sheet.view import SheetView
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools.view import ToolsView
    from nonna.shop.links.subjects import Subject
    from nonna.standin.world import World
    from nonna.wording.lengths import Units

AFTER_PAINT_MS = 30  #: lets the first picture reach the screen before loading competes with it


class DeskWindow(QMainWindow):
    """Shows one session."""

    painted = Signal()  #: the first picture stands
    ready = Signal()
    asked = Signal(str)  #: a command (`CommandId`) to be carried out
    state_shown = Signal(object)  #: a ShopState

    def __init__(self, folder: ShopFiles, settings: DeskSettings) -> None:
        super().__init__()
        self.setWindowTitle("Nonna")
        self.settings = settings
        self.front = QtFront(self)
        self.session = ShopSession(self.front, self, folder, settings)
        self.session.said.connect(self._on_said)
        self.session.shown.connect(self._on_shown)
        self.session.wanted.connect(self._on_wanted)
        self.session.stored = lambda: not self.places.storing
        self.session.sheets.changed.connect(self._on_sheets)
        self._heading: str | None = CommandId.LOOP  #: the place asked for last, None once a page was shown
        self.held_open: Callable[[], bool] = lambda: False  #: whether something has to be done before it closes
        self._painted = False
        self._warming: Work | None = None
        self.bar, self.rail, self.places = Bar(), Rail(), Places(self)
        self.pages = SheetPages(self.places, self._new_view)
        self.banner = Banner()
        self._arrange()
        self._connect()
        self.session.begin()
        self.go(CommandId.LOOP)
        if settings.geometry is not None:
            self.restoreGeometry(settings.geometry)
        else:
            self.resize(1280, 800)

    @property
    def home(self) -> str:
        """The place that everything begins at."""
        return CommandId.LOOP

    @property
    def folder(self) -> ShopFiles:
        """The shop's files."""
        return self.session.folder

    @property
    def station(self) -> str:
        """Name of the files of the machine shown here, "" for the first."""
        return self.session.station

    @property
    def state(self) -> ShopState | None:
        """The machine shown at this moment; None while loading."""
        return self.session.state

    @property
    def site(self) -> Site | None:
        """The machine shown with all its files say and hands changed; None while loading."""
        return self.session.site

    @property
    def tables(self) -> MachineTables:
        """The machine's tables as hands left them."""
        return self.session.tables

    @property
    def units(self) -> Units:
        """What lengths are shown in."""
        return self.session.units

    @property
    def operator(self) -> str:
        """Who signs."""
        return self.session.operator

    @property
    def machine_name(self) -> str:
        """The machine shown here."""
        return self.session.machine_name

    @property
    def sheets(self) -> SheetsInHand:
        """The sheet in hand and those put aside."""
        return self.session.sheets

    @property
    def sheet(self) -> SheetView | None:
        """The sheet in hand, in front or behind another page."""
        return self.pages.of(self.sheets.current)

    def world(self) -> World:
        """Return the stand-in machine."""
        return self.session.world()

    @property
    def loop(self) -> LoopView:
        """The home of the machine shown."""
        return self.places.loop

    @property
    def tools(self) -> ToolsView:
        """The Tools view, made when first wanted."""
        return self.places.tools

    @property
    def book(self) -> BookView:
        """The Book view, made when first wanted."""
        return self.places.book

    @property
    def shelf(self) -> ShelfView:
        """The Shelf view, made when first wanted."""
        return self.places.shelf

    def _arrange(self) -> None:
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(0)
        body.addWidget(self.rail)
        page = QVBoxLayout()
        page.setSpacing(0)
        page.addWidget(self.banner)
        page.addWidget(Room(self.places), 1)
        body.addLayout(page, 1)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.bar)
        column.addLayout(body, 1)
        self.setCentralWidget(whole)
        style.dress(whole)
        self.tell("", "plain")

    def _connect(self) -> None:
        self.bar.asked.connect(self.do)
        self.rail.asked.connect(self.do)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Say once that the first picture stands."""
        super().paintEvent(event)
        if not self._painted:
            self._painted = True
            QTimer.singleShot(AFTER_PAINT_MS, self, self.painted.emit)

    def load_behind(self, work: Work) -> None:
        """Load what a sheet needs on a worker; its result is the shop, checked whole."""
        self._warming = work
        work.done.connect(self._on_warm)
        work.failed.connect(lambda error: self.tell(error.message, "bad"))
        work.start()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Remember the window; results that would be lost hold it open, unsigned sheets are kept for the next start."""
        if self.held_open() or not self.session.may_close():
            event.ignore()
            return
        self.sheets.let_go()
        self.settings.geometry = self.saveGeometry()
        super().closeEvent(event)

    def look_again(self) -> None:
        """Read the shop afresh, behind, where anything changed; it is shown when it is there."""
        self.session.look_again()

    @property
    def settled(self) -> bool:
        """Whether what is shown is what there is: nothing is being read, written or signed."""
        direct = Qt.FindChildOption.FindDirectChildrenOnly
        works = [work for part in (self, self.front) for work in part.findChildren(Work, options=direct)]
        return (
            self.session.settled
            and not self.places.reading
            and not any(work.busy for work in works if work is not self._warming)
        )

    def _on_said(self, words: str, tone: str) -> None:
        self.banner.say(words, tone)

    def _on_sheets(self) -> None:
        self.bar.show_waiting(self.sheets.waiting)

    def _on_wanted(self, place: str) -> None:
        if place == self.home:
            self.go(place)
        else:
            self.come_to(place)

    def _on_shown(self, state: ShopState) -> None:
        self.bar.show_state(state, self.units, self.operator)
        self.places.show_state(state, self.units)
        self.state_shown.emit(state)

    def show_station(self, station: str) -> None:
        """Show another machine of this shop in this window. What is unsigned waits on its own machine."""
        self.session.move_to(self.folder, station)

    def move_to(self, folder: ShopFiles, station: str = "") -> None:
        """Show another shop, or another machine."""
        self.session.move_to(folder, station)

    def tell(self, words: str, tone: str) -> None:
        """Say something that concerns the whole shop."""
        self.session.tell(words, tone)

    def do(self, what: str) -> None:
        """Ask for a command."""
        self.asked.emit(what)

    def go(self, place: str) -> None:
        """Show a place; a sheet under way stays open behind it."""
        self._heading = place
        self.rail.show_place(place)
        view = self.places.view(place)
        self.places.setCurrentWidget(view)
        cast("PageView", view).take_keyboard()
        self.sheets.went_behind()

    def come_to(self, place: str) -> None:
        """Show a place; one that shows something older is brought up to date first and comes to the front after
        that.
        """
        self._heading = place
        self.places.come(place, self.folder, lambda: self._arrive(place), lambda error: self.tell(error.message, "bad"))

    def show_shelf(self) -> None:
        """Read the cards afresh, behind, then show the shelf if that is where we are."""
        self.places.come(
            CommandId.SHELF, self.folder, lambda: self._arrive(CommandId.SHELF),
            lambda error: self.tell(error.message, "bad"),
        )  # fmt: skip

    def _arrive(self, place: str) -> None:
        if self._heading == place:  # nothing else was asked for meanwhile
            self.go(place)

    def open_link(self, key: str) -> None:
        """Open what a link stands for."""
        self.session.open_link(key, CommandId.TOOLS, CommandId.SHELF)

    def open_sheets(self, wanted: Sequence[tuple[str, Subject]], origin: str, *, in_round: bool = False) -> None:
        """Open sheets (procedure, subject) one after another."""
        self.session.open_sheets(wanted, origin, in_round=in_round)

    def measure(self, subjects: tuple[Subject, ...]) -> None:
        """Measure tools one after another, each on its sheet."""
        self.session.measure(subjects, CommandId.TOOLS)

    def shows(self, page: QWidget) -> bool:
        """Whether a page is what is seen."""
        return self.places.currentWidget() is page

    def front_of_sheet(self) -> QtFront:
        """Return what will stand in front of a sheet that is about to be presented."""
        return QtFront()

    def present(self, sheet: OpenSheet) -> None:
        """Have a page for a sheet, behind what is seen."""
        view = self.pages.present(sheet, cast("QtFront", sheet.front))
        view.live_url = self.settings.indicator

    def _new_view(self) -> SheetView:
        from nonna.desk.pages.sheet.view import SheetView

        view = SheetView()
        view.left.connect(self.sheets.leave)
        return view

    def bring(self, sheet: OpenSheet, place: str) -> None:
        """Show a sheet, as one that belongs to a place, and give it the keyboard."""
        if (view := self.pages.of(sheet)) is not None:
            self.show_page(view, place)
            view.take_keyboard()

    def put_away(self, sheet: OpenSheet) -> None:
        """Take a sheet from the pages; it may be taken back."""
        self.pages.put_away(sheet)

    def take_back(self, sheet: OpenSheet) -> None:
        """Have a sheet among the pages again."""
        self.pages.take_back(sheet)

    def let_go(self, sheet: OpenSheet) -> None:
        """Show a sheet no more."""
        self.pages.let_go(sheet)

    def show_page(self, page: QWidget, place: str) -> None:
        """Show a page that belongs to a place."""
        self._heading = None
        self.rail.show_place(place)
        self.places.setCurrentWidget(page)

    def show_units(self, units: Units | None = None) -> None:
        """Change the unit everywhere, to the other one where none is named."""
        self.session.units = self.settings.units = units or self.units.other
        if self.state is not None:
            self.session.show(self.state)
        self.pages.show_units(self.units)

    def show_theme(self) -> None:
        """Change between light and dark."""
        self.settings.theme = "light" if self.settings.dark else "dark"
        self.wear_theme()

    def wear_theme(self) -> None:
        """Wear the colours that the settings wish for."""
        style.wear(DARK if self.settings.dark else LIGHT)

    def start_round(self) -> None:
        """Do all that the loop needs now, sheet after sheet."""
        self.session.start_round()

    def _on_warm(self, site: Site) -> None:
        self.session.take(site)
        spare_what_stays()
        self.ready.emit()
        self.look_again()  # the first picture was made of a glance; last, or its worker would be in the way of the rest
