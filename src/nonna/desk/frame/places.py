"""The places of the window, each made when first wanted and brought up to date when it is looked at."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from importlib import import_module
from typing import TYPE_CHECKING, Protocol, cast, runtime_checkable

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QWidget

from nonna.bench.ports import ShopFiles
from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.page import PageHost, on_rail
from nonna.desk.forms.folding import Front
from nonna.desk.frame.bar import BAR_PX
from nonna.desk.look import style
from nonna.desk.threads.event_turns import next_turn
from nonna.desk.threads.work import Work
from nonna.errors import NonnaError
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.desk.pages.book.view import BookView
    from nonna.desk.pages.loop.view import LoopView
    from nonna.desk.pages.shelf.view import ShelfView
    from nonna.desk.pages.tools.view import ToolsView

LEAST, SMALL_WINDOW_PX = (812, 500), 900  #: room that pages have at least, in a window that is not small


class PageView(Protocol):
    """What a page's widget does."""

    def show_state(self, state: ShopState, units: Units) -> None:
        """Show a state of the shop, or keep it until somebody looks."""

    def take_keyboard(self) -> None:
        """Take the keyboard: the page has just come to the front."""


@runtime_checkable
class ShowsLater(Protocol):
    """A page that keeps a state until somebody looks."""

    def show_waiting(self) -> None:
        """Show what was kept."""


@runtime_checkable
class ReadsFirst(Protocol):
    """A page of files: they are read behind before it comes to the front."""

    storing: bool  #: whether something of it is on its way to the disk

    def read(self, folder: ShopFiles) -> object:
        """Read what it shows; on a worker. Raises: NonnaError."""

    def take(self, found: object) -> None:
        """Show what was read."""


class Places(Front):
    """The pages that are gone to, and the sheets between them."""

    made = Signal(str, object)  #: a page's key and its widget, when it is first wanted

    def __init__(self, host: PageHost) -> None:
        super().__init__()
        self._host = host
        self._makes = {page.key: page.view for page in on_rail()}
        self._views: dict[str, QWidget] = {}
        self._latest: tuple[ShopState, Units] | None = None
        self._reading: Work | None = None  #: of a page's files
        self._behind: set[QWidget] = set()  #: that show something older

    def minimumSizeHint(self) -> QSize:
        """As large as the page in front needs; in a small window it scrolls up and down, and is never wider."""
        window, needed = self.window(), super().minimumSizeHint()
        if window.width() >= SMALL_WINDOW_PX and window.height() >= LEAST[1] + BAR_PX:
            return needed.expandedTo(QSize(*LEAST))
        return needed

    def show_state(self, state: ShopState, units: Units) -> None:
        """Take a new state of the shop: what is in front shows it now, the others when they are looked at."""
        self._latest = (state, units)
        self._behind = set(self._views.values())
        for view in self._views.values():
            if view is self.currentWidget():
                self._bring(view)

    def _bring(self, view: QWidget) -> None:
        """Bring a view up to date."""
        if view in self._behind and self._latest is not None:
            self._behind.discard(view)
            cast("PageView", view).show_state(*self._latest)

    def view(self, place: str) -> QWidget:
        """Return the widget of a place, up to date."""
        view = self._views.get(place)
        if view is None:
            module, _, name = self._makes[place].partition(":")
            make = cast("Callable[[PageHost], QWidget]", getattr(import_module(module), name))
            view = self._views[place] = make(self._host)
            self._behind.add(view)
            self.made.emit(place, view)
            self.add(view)
        self._bring(view)
        return view

    @property
    def views(self) -> Mapping[str, QWidget]:
        """Those that were wanted so far."""
        return self._views

    @property
    def loop(self) -> LoopView:
        """The home of a station."""
        return cast("LoopView", self.view(CommandId.LOOP))

    @property
    def tools(self) -> ToolsView:
        """The tray."""
        return cast("ToolsView", self.view(CommandId.TOOLS))

    @property
    def book(self) -> BookView:
        """The records."""
        return cast("BookView", self.view(CommandId.BOOK))

    @property
    def shelf(self) -> ShelfView:
        """Masters and instruments."""
        return cast("ShelfView", self.view(CommandId.SHELF))

    @property
    def reading(self) -> bool:
        """Whether a page's files are being read or written."""
        return self._reading is not None or self.storing

    @property
    def storing(self) -> bool:
        """Whether something of a page is on its way to the disk."""
        return any(isinstance(view, ReadsFirst) and view.storing for view in self._views.values())

    def come(
        self, place: str, folder: ShopFiles, then: Callable[[], None], failed: Callable[[NonnaError], None]
    ) -> None:
        """Bring a place up to date, behind where that takes a while, and go on as told."""
        found = self._views.get(place)
        if found is not None and not isinstance(found, ReadsFirst) and found not in self._behind:
            then()
            return
        view = self.view(place)
        if isinstance(view, ReadsFirst):
            self._read(view, folder, then, failed)
            return
        if isinstance(view, ShowsLater):
            view.show_waiting()
        next_turn(self, then)

    def _read(
        self, view: ReadsFirst, folder: ShopFiles, then: Callable[[], None], failed: Callable[[NonnaError], None]
    ) -> None:
        self._reading = work = Work(lambda _: view.read(folder), self)

        def ended() -> bool:
            latest = work is self._reading  # else something newer is under way
            if latest:
                self._reading = None
            return latest

        def done(found: object) -> None:
            if ended():
                view.take(found)
                next_turn(self, then)

        def wrong(error: NonnaError) -> None:
            ended()
            failed(error)

        work.done.connect(done)
        work.failed.connect(wrong)
        work.start()

    def at(self, place: str) -> bool:
        """Whether the view of a place stands in front."""
        view = self._views.get(place)
        return view is not None and self.currentWidget() is view

    def add(self, page: QWidget) -> None:
        """Take a page among those that can be shown."""
        if self.indexOf(page) < 0:
            self.addWidget(page)  # first: what is dressed already would be dressed once more for its new home
            style.dress(page)

    def remove(self, page: QWidget) -> None:
        """Take a page out again."""
        if self.indexOf(page) >= 0:
            self.removeWidget(page)
