"""The main window: bar, rail, the places, and one sheet at a time."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QCloseEvent, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QVBoxLayout, QWidget

from nonna.bench.job import rounds
from nonna.bench.ports import ShopFiles
from nonna.bench.station.state import ShopState
from nonna.bench.station.worlds import Worlds
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.widgets import Room
from nonna.desk.frame.banner import Banner
from nonna.desk.frame.bar import Bar, Rail
from nonna.desk.frame.open_sheets import OpenSheets
from nonna.desk.frame.places import Places
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.frame.unfinished import unfinished_at_close, unfinished_for
from nonna.desk.look import style
from nonna.desk.look.palette import DARK, LIGHT
from nonna.desk.shop.machine_tables import MachineTables
from nonna.desk.shop.shop_reader import Seen, ShopReader
from nonna.desk.shop.sign_link import SignLink
from nonna.desk.threads.garbage_collection import spare_what_stays
from nonna.desk.threads.work import Work
from nonna.procedures.listing import measuring
from nonna.shop.links.loop import LinkSort

if TYPE_CHECKING:
    from nonna.bench.station.site import Site
    from nonna.desk.frame.places import PageView
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.loop.view import LoopView
    from nonna.desk.pages.sheet.view import SheetView
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools.view import ToolsView
    from nonna.errors import NonnaError
    from nonna.shop.links.subjects import Subject
    from nonna.standin.world import World
    from nonna.wording.lengths import Units

AFTER_PAINT_MS = 30  #: lets the first picture reach the screen before loading competes with it


class DeskWindow(QMainWindow):
    """Shows one shop. Slow parts load behind the first picture; wishes made meanwhile are kept."""

    painted = Signal()  #: the first picture stands
    ready = Signal()
    asked = Signal(str)  #: a command (`CommandId`) to be carried out
    state_shown = Signal(object)  #: a ShopState

    def __init__(self, folder: ShopFiles, settings: DeskSettings) -> None:
        super().__init__()
        self.setWindowTitle("Nonna")
        self.folder, self.settings = folder, settings
        self.units = settings.units
        self.station = settings.station(folder.root)  #: name of the files of the machine shown here; "" for the first
        self.tables = MachineTables(self)
        self._worlds = Worlds()
        self._heading: str | None = CommandId.LOOP  #: the place asked for last, None once a page was shown
        self._reader = ShopReader(self)
        self._reader.read.connect(self._on_read)
        self._reader.once_more.connect(self.look_again)
        self._reader.moved.connect(self._on_moved)
        self._reader.not_moved.connect(self._on_not_moved)
        self._reader.failed.connect(lambda error: self.tell(error.message, "bad"))
        self.tables.written.connect(self.look_again)
        self.tables.refused.connect(self.look_again)
        self._wish: Callable[[], None] | None = None
        self._told_of_closing = ""  #: what would be left
        self._painted = False
        self._warming: Work | None = None
        self.bar, self.rail, self.places = Bar(), Rail(), Places(self)
        self.banner = Banner()
        self._arrange()
        self._connect()
        self.state: ShopState | None = None
        self.sheets = OpenSheets(self, self)
        self.sheets.changed.connect(lambda: self.bar.show_waiting(self.sheets.waiting))
        if not self._reader.begin(folder, self.station):
            self.tell("The shop's disk is slow. One moment…", "plain")
        self.go(CommandId.LOOP)
        if settings.geometry is not None:
            self.restoreGeometry(settings.geometry)
        else:
            self.resize(1280, 800)

    @property
    def site(self) -> Site | None:
        """The machine shown with all its files say and hands changed; None while loading."""
        return self.tables.site

    @property
    def sheet(self) -> SheetView | None:
        """The sheet in hand, in front or behind another page."""
        return self.sheets.current

    @property
    def machine_name(self) -> str:
        """The machine shown here."""
        return self.state.machine if self.state else ""

    @property
    def operator(self) -> str:
        """Who signs."""
        names = self.state.operators if self.state else ("nobody",)
        return self.settings.operator if self.settings.operator in names else names[0]

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
        tray = self.places.tray
        if tray is not None and (tray.tray.results or tray.busy):
            self.tell("The tray's results are not signed yet. Sign, or throw them away with Ctrl+Z, then close.", "due")
            event.ignore()
            return
        if (words := unfinished_at_close(self.tables, self.sheets)) and words != self._told_of_closing:
            self.tell(f"{words} Close again to leave it so.", "due")
            self._told_of_closing = words
            event.ignore()
            return
        self.sheets.let_go()
        self.settings.geometry = self.saveGeometry()
        super().closeEvent(event)

    def look_again(self) -> None:
        """Read the shop afresh, behind, where anything changed; it is shown when it is there."""
        self._reader.look_again(self.folder, self.station, self._shown, self.tables.of_files)

    @property
    def _shown(self) -> str:
        return self.state.key if self.state else self.station

    def _on_read(self, seen: Seen) -> None:
        had = self.state
        self.tables.take(seen.state.site or self.tables.of_files)
        self._show(seen.state)
        if had is None:
            self.tell("", "plain")  # nothing is waited for any more
        else:
            self.look_again()  # somebody may have signed while it was read

    @property
    def settled(self) -> bool:
        """Whether what is shown is what there is: nothing is being read, written or signed."""
        tray = self.places.tray
        works = self.findChildren(Work, options=Qt.FindChildOption.FindDirectChildrenOnly)
        links = [*self.findChildren(SignLink), *([tray.signer] if tray is not None else [])]
        return (
            not self._reader.busy
            and not self.sheets.opening
            and not self.places.reading
            and not self.tables.busy
            and not any(view.controller.reads.busy for view in self.sheets.all)
            and not any(link.busy for link in links)
            and not any(work.busy for work in works if work is not self._warming)
        )

    def _show(self, state: ShopState) -> None:
        self.state = state
        self.bar.show_state(self.state, self.units, self.operator)
        self.places.show_state(self.state, self.units)
        self.sheets.state_changed()
        self.state_shown.emit(state)

    def show_station(self, station: str) -> None:
        """Show another machine of this shop in this window. What is unsigned waits on its own machine."""
        self.move_to(self.folder, station)

    def move_to(self, folder: ShopFiles, station: str = "") -> None:
        """Show another shop, or another machine: nothing that is at work, or waits to be signed, is taken along.

        A tray with results, or a stand-in at work, keeps the window where it is; unsigned sheets stay as drafts.
        """
        if not self._is_held():
            self._reader.move(folder, station)

    def _is_held(self) -> bool:
        """Say what keeps the window where it is, if anything does."""
        if words := unfinished_for(self.places, self.tables, self.sheets, self.machine_name):
            self.tell(words, "due")
        return bool(words)

    def _on_moved(self, seen: Seen) -> None:
        site = seen.state.site
        if site is None or self._is_held():  # something was begun meanwhile
            self.look_again()
            return
        left = [
            f"{v.controller.session.procedure.title.lower()} on {v.controller.site.machine.name}"
            for v in self.sheets.unsigned
        ]
        self.sheets.let_go()
        self.folder, self.station = seen.folder, site.key
        self.tables.take(site)
        self.settings.set_station(self.folder.root, self.station)
        self._remember(site)
        self.tell(f"Left unsigned: {'; '.join(left)}. It waits there." if left else "", "due")
        self._reader.take(seen)
        self.go(CommandId.LOOP)

    def _on_not_moved(self, folder: ShopFiles, error: NonnaError) -> None:
        self.tell(f"{folder.root.name} is not opened: {error.message}", "bad")
        self.look_again()

    def tell(self, words: str, tone: str) -> None:
        """Say something that concerns the whole shop."""
        self.banner.say(words, tone)

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
        self.sheets.changed.emit()

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
        if self.state is None:
            return
        link = self.state.kind.loop.link(key)
        if link.sort is LinkSort.EACH:
            self.come_to(CommandId.TOOLS)
        elif link.sort is LinkSort.CERTIFICATE:
            self.come_to(CommandId.SHELF)
        else:
            self.open_sheets([(link.procedure, link.subject)], CommandId.LOOP)

    def open_sheets(self, wanted: Sequence[tuple[str, Subject]], origin: str, *, in_round: bool = False) -> None:
        """Open sheets (procedure, subject) one after another."""
        if self.site is None:
            self._wish = lambda: self.open_sheets(wanted, origin, in_round=in_round)
            self.tell("One moment, the rest is still loading…", "plain")
            return
        self.sheets.open(wanted, origin, in_round=in_round)

    def shows(self, page: QWidget) -> bool:
        """Whether a page is what is seen."""
        return self.places.currentWidget() is page

    def add_page(self, page: QWidget) -> None:
        """Take a page among those that can be shown."""
        self.places.add(page)

    def remove_page(self, page: QWidget) -> None:
        """Take a page out again."""
        self.places.remove(page)

    def show_page(self, page: QWidget, place: str) -> None:
        """Show a page that belongs to a place."""
        self._heading = None
        self.rail.show_place(place)
        self.places.setCurrentWidget(page)

    def show_units(self, units: Units | None = None) -> None:
        """Change the unit everywhere, to the other one where none is named."""
        self.units = units or self.units.other
        self.settings.units = self.units
        if self.state is not None:
            self._show(self.state)
        self.sheets.show_units(self.units)

    def show_theme(self) -> None:
        """Change between light and dark."""
        self.settings.theme = "light" if self.settings.dark else "dark"
        self.wear_theme()

    def wear_theme(self) -> None:
        """Wear the colours that the settings wish for."""
        style.wear(DARK if self.settings.dark else LIGHT)

    def world(self) -> World:
        """Return the stand-in machine of this shop; what hands change on it lasts while the window is open."""
        if self.site is None:
            raise RuntimeError("no shop is loaded yet")
        return self._worlds.of(self.site)

    def start_round(self) -> None:
        """Do all that the loop needs now, sheet after sheet; it stops at the first link that fails."""
        if self.state is None:
            return
        sheets = rounds.wanted(self.state.jobs)
        if sheets:
            self.open_sheets(sheets, CommandId.LOOP, in_round=True)

    def _remember(self, site: Site) -> None:
        if not site.shop.invented:  # a copy of the demo shop is gone tomorrow
            self.settings.remember_shop(site.folder.root)

    def _on_warm(self, site: Site) -> None:
        self.tables.take(site)
        self._remember(site)
        if self.state is not None:
            self.tell("", "plain")
        wish, self._wish = self._wish, None
        if wish is not None:
            wish()
        spare_what_stays()
        self.ready.emit()
        self.look_again()  # the first picture was made of a glance; last, or its worker would be in the way of the rest

    def measure(self, subjects: tuple[Subject, ...]) -> None:
        """Measure tools one after another, each on its sheet."""
        each = self.state.kind.loop.each if self.state else None
        name = each.procedure if each is not None else measuring("length")
        self.open_sheets([(name, subject) for subject in subjects], CommandId.TOOLS)
