"""The places of the window, each made when first wanted and brought up to date when it is looked at."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QWidget

from nonna.bench.ports import ShopFiles
from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.folding import Front
from nonna.desk.frame.bar import BAR_PX
from nonna.desk.look import style
from nonna.desk.pages.loop.view import LoopView
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import Work
from nonna.errors import NonnaError
from nonna.lazy_modules import lazy_module
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.desk.pages.book import view as book_view
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.shelf import view as shelf_view
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools import controller as tools_controller
    from nonna.desk.pages.tools import view as tools_view
    from nonna.desk.pages.tools.controller import TrayController
    from nonna.desk.pages.tools.tray_host import TrayHost
    from nonna.desk.pages.tools.view import ToolsView
else:
    book_view, shelf_view, tools_controller, tools_view = (
        lazy_module(name)
        for name in (
            "nonna.desk.pages.book.view",
            "nonna.desk.pages.shelf.view",
            "nonna.desk.pages.tools.controller",
            "nonna.desk.pages.tools.view",
        )
    )


LEAST, SMALL_WINDOW_PX = (812, 500), 900  #: room that pages have at least, in a window that is not small


class Places(Front):
    """Loop, tray, book and shelf, and the sheets between them."""

    measure_asked = Signal(object)  #: subjects, one sheet each
    tray_asked = Signal(str)  #: a wish of the tray that needs a dialog
    certificate_asked = Signal(int, object)  #: a record's number, Path
    withdrawal_asked = Signal(int)  #: a record's number
    card_put_asked = Signal(str, object)  #: group and card for the shelf
    recall_asked = Signal(str, str)  #: a master's id and name
    station_asked = Signal()  #: one more machine is set up

    def __init__(self, host: TrayHost) -> None:
        super().__init__()
        self._host = host
        self._loop = LoopView()
        self._tools: ToolsView | None = None
        self._book: BookView | None = None
        self._shelf: ShelfView | None = None
        self._latest: tuple[ShopState, Units] | None = None
        self._reading: Work | None = None  #: of the shelf's cards
        self._behind: set[QWidget] = set()  #: that show something older
        self.addWidget(self._loop)

    def minimumSizeHint(self) -> QSize:
        """As large as the page in front needs; in a small window it scrolls up and down, and is never wider."""
        window, needed = self.window(), super().minimumSizeHint()
        if window.width() >= SMALL_WINDOW_PX and window.height() >= LEAST[1] + BAR_PX:
            return needed.expandedTo(QSize(*LEAST))
        return needed

    def show_state(self, state: ShopState, units: Units) -> None:
        """Take a new state of the shop: what is in front shows it now, the others when they are looked at."""
        self._latest = (state, units)
        self._behind = {view for view in (self._loop, self._tools, self._book) if view is not None}
        for view in (self._loop, self._tools, self._book):
            if view is not None and view is self.currentWidget():
                self._bring(view)

    def _bring(self, view: LoopView | ToolsView | BookView) -> None:
        """Bring a view up to date."""
        if view in self._behind and self._latest is not None:
            self._behind.discard(view)
            view.show_state(*self._latest)

    @property
    def loop(self) -> LoopView:
        """The home of a station."""
        self._bring(self._loop)
        return self._loop

    @property
    def tools(self) -> ToolsView:
        """The tray."""
        if self._tools is None:
            self._tools = tools_view.ToolsView(tools_controller.TrayController(self._host))
            self._tools.measure_asked.connect(self.measure_asked)
            self._tools.asked.connect(self.tray_asked)
            self._tools.controller.exchanged.connect(lambda: self.tray_asked.emit("exchanged"))
            self._behind.add(self._tools)
            self.add(self._tools)
        self._bring(self._tools)
        return self._tools

    @property
    def tray(self) -> TrayController | None:
        """What the tray holds, None while nobody looked at it."""
        return self._tools.controller if self._tools is not None else None

    @property
    def book(self) -> BookView:
        """The records."""
        if self._book is None:
            self._book = book_view.BookView()
            self._book.certificate_asked.connect(self.certificate_asked)
            self._book.withdrawal_asked.connect(self.withdrawal_asked)
            self._behind.add(self._book)
            self.add(self._book)
        self._bring(self._book)
        return self._book

    @property
    def shelf(self) -> ShelfView:
        """Masters and instruments."""
        if self._shelf is None:
            self._shelf = shelf_view.ShelfView()
            self._shelf.put_asked.connect(self.card_put_asked)
            self._shelf.recall_asked.connect(self.recall_asked)
            self._shelf.station_asked.connect(self.station_asked)
            self.add(self._shelf)
        return self._shelf

    @property
    def reading(self) -> bool:
        """Whether the shelf is being read or written."""
        return self._reading is not None or self.storing

    @property
    def storing(self) -> bool:
        """Whether a card is on its way to the disk."""
        return self._shelf is not None and self._shelf.storing

    def read_shelf(self, folder: ShopFiles, then: Callable[[], None], failed: Callable[[NonnaError], None]) -> None:
        """Read the cards afresh, behind; the shelf shows them when they are there, then goes on as told."""
        from nonna.bench.shelf.shelving import cards

        self._reading = work = Work(lambda _: cards(folder), self)
        work.done.connect(lambda found: self._on_cards(work, found, then))
        work.failed.connect(lambda _: self._on_cards(work, None, then))
        work.failed.connect(failed)
        work.start()

    def _on_cards(self, asked: Work, found: dict[str, list[dict[str, Plain]]] | None, then: Callable[[], None]) -> None:
        if asked is not self._reading:
            return  # something newer is under way
        self._reading = None
        if found is not None:
            self.shelf.show_cards(found)
            next_turn(self, then)

    def is_behind(self, place: CommandId) -> bool:
        """Whether the view of a place shows something older, or was never looked at."""
        made = {CommandId.LOOP: self._loop, CommandId.TOOLS: self._tools, CommandId.BOOK: self._book}.get(place)
        return place is not CommandId.SHELF and (made is None or made in self._behind)

    def bring(self, place: CommandId) -> None:
        """Bring the view of a place up to date, unseen."""
        self.view(place)
        if place is CommandId.BOOK:
            self.book.show_waiting()

    def at(self, place: CommandId) -> bool:
        """Whether the view of a place stands in front."""
        view = {
            CommandId.LOOP: self._loop,
            CommandId.TOOLS: self._tools,
            CommandId.BOOK: self._book,
            CommandId.SHELF: self._shelf,
        }.get(place)
        return view is not None and self.currentWidget() is view

    def view(self, place: CommandId) -> ToolsView | BookView | ShelfView | LoopView:
        """Return the view of a place, up to date."""
        if place is CommandId.TOOLS:
            return self.tools
        return self.book if place is CommandId.BOOK else self.shelf if place is CommandId.SHELF else self.loop

    def add(self, page: QWidget, *, soon: bool = False) -> None:
        """Take a page among those that can be shown; one that is not wanted yet is dressed soon."""
        if self.indexOf(page) < 0:
            self.addWidget(page)  # first: what is dressed already would be dressed once more for its new home
            style.dress(page, soon=soon)

    def remove(self, page: QWidget) -> None:
        """Take a page out again."""
        if self.indexOf(page) >= 0:
            self.removeWidget(page)
